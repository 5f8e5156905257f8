#pragma once

#include "coaching/drill_library.h"
#include "technique/pack/pack.h"

#include <QImage>
#include <QString>

#include <map>
#include <string>

/// A technique pack as a page that a coach reads.
namespace kestrel::report {

/// HTML for a QTextDocument and the images that it names.
struct PackPage {
    QString html;
    std::map<QString, QImage> images;
};

/// Positions in order with what to look at and their measures, ranges drawn as bands, schools side
/// by side, faults with causes, cues and drills, cautions, how to film it. `pictures` are those of
/// positions, by id; positions without one have words only. `pictureWidth` in pixels.
PackPage packPage(const technique::Pack& pack, const coaching::DrillLibrary& drills,
                  const std::map<std::string, QImage>& pictures, int pictureWidth);

/// Drills one after the other: set-up, steps, doses, feel, mistake, progression, caution.
QString drillsHtml(const coaching::DrillLibrary& drills);

/// A measure's ranges as bands on one axis, each with its limits and whom it is for; null when it
/// has none. `width` in pixels.
QImage rangeBands(const technique::Pack& pack, const technique::Measure& measure, int width);

} // namespace kestrel::report
