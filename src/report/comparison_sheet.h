#pragma once

#include "coaching/differences.h"
#include "model/review_script.h"
#include "report/document_pdf.h"
#include "report/sheet_material.h"
#include "technique/pack/pack.h"

#include <QImage>
#include <QString>

#include <filesystem>
#include <vector>

/// Two reps on paper and as a film: their pictures at the key positions with what differs there.
namespace kestrel::report {

/// One of the two.
struct ComparedRep {
    QString title; ///< “3 October 2026”, “Pose model”
    FilmedRep filmed;
    model::Hand hand = model::Hand::right;
    std::optional<double> bodyHeightPx; ///< as the pack measures it
};

struct ComparisonMaterial {
    technique::Pack pack;
    QString playerName;
    ComparedRep here;
    ComparedRep there;
    bool mirrored = false; ///< the other one is shown in a mirror
    std::vector<coaching::Difference> differences;
    model::Message than; ///< “than on 3 October 2026”
    coaching::FaultsBetween faults;
    bool blurFaces = false;
};

struct ComparisonSheet {
    QString title;
    QString html;
    DocumentPictures pictures;
};

/// Pairs of pictures at the key positions that both have, numbered, both players as tall and on one
/// line, with the constructs and sentences of what differs for certain; then all readings of both.
/// A picture that cannot be had, or whose face is to be blurred and cannot be found, says so.
ComparisonSheet comparisonSheetOf(const ComparisonMaterial& material);

/// The sheet's pages as one picture, `width` pixels wide. Needs a QGuiApplication.
QImage pictureOf(const ComparisonSheet& sheet, int width);

/// The readings of both with their difference, one a line, for spreadsheets: UTF-8, values in the
/// unit named.
std::string differencesCsv(const technique::Pack& pack,
                           const std::vector<coaching::Difference>& differences);

/// A walk through both side by side: slowly from key position to key position, with a stop at each
/// that both have and what differs there. Empty when they share
/// fewer than two key positions.
model::ReviewScript comparisonScript(const ComparisonMaterial& material,
                                     const model::ClipTime& time);

} // namespace kestrel::report
