#pragma once

#include "coaching/drill_library.h"
#include "coaching/review.h"
#include "model/record.h"
#include "technique/pack.h"

#include <QImage>
#include <QString>

#include <functional>
#include <vector>

/// The take-home sheet: what the player and a parent read. Content only; take_home_html.h lays it
/// out.
namespace kestrel::report {

struct TakeHomePicture {
    QString title;
    QString caption;
    QImage image;
};

struct TakeHomeDrill {
    QString name;
    QString place;
    QString dose;
    QString setUp;
    QStringList steps;
    QString feel;
    QString mistake;
    QString next;
    QString equipment;
    QString caution;
    int minutes = 0;
};

struct TakeHomeReading {
    QString name;
    QString position;
    QString value;
    QString range;
    QString basis;
    QString verdict;
    model::Verdict kind = model::Verdict::unreadable;
};

struct TakeHome {
    QString player;
    QString technique;
    QString filmed; ///< day of filming, empty when unknown
    QString schools;
    QStringList strengths;
    QString focus; ///< empty when no fault was found
    QString focusMeaning;
    QString whyFirst;
    QStringList cues;
    std::vector<TakeHomeDrill> drills;
    QStringList watch;
    QStringList cautions;
    QString note;
    std::vector<TakeHomePicture> pictures;
    std::vector<TakeHomeReading> readings; ///< for the coach
};

/// The picture of a frame of the film; a null image when it cannot be decoded.
using FrameImages = std::function<QImage(int frame)>;

/// Puts the sheet together. Pictures show the key positions of the rep in order, each with the
/// construct of the reading that matters most there: the focus's evidence, else a strength.
TakeHome takeHomeOf(const technique::Pack& pack, const coaching::DrillLibrary& drills,
                    const model::Player& player, const model::Clip& clip, const model::Rep& rep,
                    const technique::Circumstances& circumstances, const coaching::Review& review,
                    const QString& note, const FrameImages& images);

} // namespace kestrel::report
