#pragma once

#include "prepare/judged_rep.h"

#include <QCoreApplication>
#include <QString>

namespace kestrel::app {

/// Why a rep of a clip is not judged, and what to do, in a sentence or two.
inline QString notJudgedText(prepare::NotJudged why, const model::Clip& clip) {
    const QString title = QString::fromStdString(clip.title);
    switch (why) {
    case prepare::NotJudged::filmBeingRead:
        return QCoreApplication::translate("notJudged", "“%1” is being read…").arg(title);
    case prepare::NotJudged::filmMissing:
        return QCoreApplication::translate(
                   "notJudged", "The film of “%1” is not in the library any more, so it does not "
                                "count here. Open the clip to choose the film again.")
            .arg(title);
    case prepare::NotJudged::filmUnreadable:
        break;
    }
    return QCoreApplication::translate(
               "notJudged", "The film of “%1” cannot be read, so it does not count here. Bring in "
                            "the film as it came from the camera.")
        .arg(title);
}

} // namespace kestrel::app
