#pragma once

#include <QKeySequence>
#include <QString>
#include <QStringList>

#include <optional>
#include <vector>

class QKeyEvent;

/// What every key does: the one table that stations, labels, messages and the overlay of keys read.
namespace kestrel::words {

/// What a key asks for. Names say it as the overlay does.
enum class Action {
    // anywhere
    squad,
    film,
    bench,
    compare,
    plan,
    packs,
    undo,
    redo,
    keys,
    // on the film: Film, Bench and Compare
    back,
    on,
    backTen,
    onTen,
    play,
    positionBefore,
    positionAfter,
    // where a rep's marks are: Bench and Compare
    positionNumbered, ///< 1 to 9
    wholePicture,
    // on Compare
    layNext, ///< beside, over, in space
    mirror,
    otherBack,
    otherOn,
    // on the Bench
    repBefore,
    repAfter,
    setPosition,
    checkNext,
    confirm,
    confirmAll,
    hide,
    remove,
    letGo,
    nudge, ///< an arrow, with a landmark chosen
    copy,
    swapSides,
    propose,
    proposeWhom,
    trackOn,
    follow,
    answerYes,
    answerNo,
    answerNotVisible,
    curves,
    body,
    bodyFromSide,
    bodyFromFront,
    bodyFromAbove,
    swapDepth,
    zoomIn,
    zoomOut,
};

/// Where an action can be asked for.
enum class Where { anywhere, onFilm, onMarks, onCompare, onBench };

struct KeyRow {
    Action action;
    Where where;
    QString words;                  ///< "the frame shown is this position"
    std::vector<QKeySequence> keys; ///< the first stands in labels
    QString shown = {};             ///< instead of the keys, for those that are many
};

/// All actions with their keys, in the order of the work.
[[nodiscard]] std::vector<KeyRow> keyTable();

/// What a key asks for on the Film station, on Compare or on the Bench; nothing when it has no
/// meaning there.
[[nodiscard]] std::optional<Action> actionFor(const QKeyEvent& event, Where where);

/// The keys of a row as text, each once.
[[nodiscard]] QStringList keyNames(const KeyRow& row);
/// All keys of an action.
[[nodiscard]] std::vector<QKeySequence> keysOf(Action action);

/// The key of an action as text: "P", "Shift+Enter".
[[nodiscard]] QString keyName(Action action);
/// The same in signs, for narrow buttons: "⇧↵".
[[nodiscard]] QString keySign(Action action);

} // namespace kestrel::words
