#pragma once

#include "report/sheet_material.h"

#include <QImage>
#include <QString>

#include <utility>
#include <vector>

/// The full report of a visit for the coach: every reading with its uncertainty, how it was made,
/// findings with chains, homework, what the earlier plan asks, schools and versions.
namespace kestrel::report {

/// The report as HTML, and its pictures by the address it names them by.
struct CoachReport {
    QString title;
    QString html;
    std::vector<std::pair<QString, QImage>> pictures;
};

CoachReport coachReportOf(const SheetMaterial& material);

} // namespace kestrel::report
