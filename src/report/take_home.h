#pragma once

#include "report/sheet_material.h"

#include <QImage>
#include <QString>
#include <QStringList>

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

/// One day of homework.
struct TakeHomeDay {
    QString date;       ///< "Monday, 30 November"
    QString stage;      ///< "Learn it slowly"
    QStringList drills; ///< name, dose and minutes
    int minutes = 0;
};

struct TakeHome {
    QString player;
    QString technique;
    QString filmed; ///< day of filming, empty when unknown
    QStringList strengths;
    QString focus; ///< empty when no fault was found
    QString focusMeaning;
    QString whyFirst;
    QStringList cues;
    std::vector<TakeHomeDrill> drills;
    std::vector<TakeHomeDay> week;
    QString nextVisit;
    QStringList nextQuestions; ///< what the next visit will ask
    QStringList watch;
    QStringList cautions;
    QString note;
    std::vector<TakeHomePicture> pictures;
    /// The position of the focus in an earlier visit and now; empty when there is none.
    std::vector<TakeHomePicture> beforeAndAfter;
    /// What the drills are for, as it looks when it is right; one or none.
    std::vector<TakeHomePicture> pose;
};

/// Puts the sheet together. Pictures show the key positions of the rep in order, each with the
/// construct of the reading that matters most there: the focus's evidence, else a strength. With
/// blurFaces, a picture whose face cannot be found is left out.
TakeHome takeHomeOf(const SheetMaterial& material);

/// All pictures of the sheet, in the order in which its HTML names them.
std::vector<TakeHomePicture> picturesOf(const TakeHome& sheet);

} // namespace kestrel::report
