#include "words/keys.h"

#include <QCoreApplication>
#include <QKeyEvent>

#include <algorithm>

namespace kestrel::words {
namespace {

/// Their words, for translators.
class KeyWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::words::KeyWords)
};

QString spoken(const QKeySequence& key) {
    QString name = key.toString(QKeySequence::NativeText);
    name.replace("Return", KeyWords::tr("Enter"));
    return name;
}

const KeyRow& rowOf(const std::vector<KeyRow>& table, Action action) {
    return *std::find_if(table.begin(), table.end(),
                         [&](const KeyRow& row) { return row.action == action; });
}

/// Whether an event is this key. On some keyboards a sign such as “>” needs Shift and on others it
/// does not, so for signs only the sign itself counts.
bool matches(const QKeyEvent& event, const QKeySequence& sequence) {
    const QKeyCombination wanted = sequence[0];
    const Qt::KeyboardModifiers held = event.modifiers() & ~Qt::KeypadModifier;
    const int key = event.key() == Qt::Key_Enter ? Qt::Key_Return : event.key();
    if (key != wanted.key()) {
        return false;
    }
    const bool sign =
        key > Qt::Key_Space && key < Qt::Key_AsciiTilde && !(key >= Qt::Key_A && key <= Qt::Key_Z);
    return sign || held == wanted.keyboardModifiers();
}

} // namespace

std::vector<KeyRow> keyTable() {
    using enum Action;
    using enum Where;
    const Qt::Modifier shift = Qt::SHIFT;
    return {
        {squad, anywhere, KeyWords::tr("Squad"), {Qt::Key_F1}},
        {film, anywhere, KeyWords::tr("Film"), {Qt::Key_F2}},
        {bench, anywhere, KeyWords::tr("Bench"), {Qt::Key_F3}},
        {compare, anywhere, KeyWords::tr("Compare"), {Qt::Key_F4}},
        {plan, anywhere, KeyWords::tr("Plan"), {Qt::Key_F5}},
        {packs, anywhere, KeyWords::tr("Packs"), {Qt::Key_F8}},
        {undo, anywhere, KeyWords::tr("undo"), {Qt::CTRL | Qt::Key_Z}},
        {redo,
         anywhere,
         KeyWords::tr("redo"),
         {Qt::CTRL | Qt::Key_Y, Qt::CTRL | Qt::SHIFT | Qt::Key_Z}},
        {keys, anywhere, KeyWords::tr("all keys"), {Qt::Key_F12}},

        {back, onFilm, KeyWords::tr("one frame back"), {Qt::Key_Comma, Qt::Key_Left}},
        {on, onFilm, KeyWords::tr("one frame on"), {Qt::Key_Period, Qt::Key_Right}},
        {backTen,
         onFilm,
         KeyWords::tr("ten frames back"),
         {shift | Qt::Key_Comma, Qt::Key_Less, Qt::Key_Semicolon, shift | Qt::Key_Left}},
        {onTen,
         onFilm,
         KeyWords::tr("ten frames on"),
         {shift | Qt::Key_Period, Qt::Key_Greater, Qt::Key_Colon, shift | Qt::Key_Right}},
        {play, onFilm, KeyWords::tr("play, pause"), {Qt::Key_Space}},
        {positionBefore, onFilm, KeyWords::tr("the position before"), {Qt::Key_BracketLeft}},
        {positionAfter, onFilm, KeyWords::tr("the position after"), {Qt::Key_BracketRight}},

        {positionNumbered,
         onMarks,
         KeyWords::tr("choose a position"),
         {Qt::Key_1, Qt::Key_2, Qt::Key_3, Qt::Key_4, Qt::Key_5, Qt::Key_6, Qt::Key_7, Qt::Key_8,
          Qt::Key_9},
         KeyWords::tr("1 … 9")},
        {wholePicture, onMarks, KeyWords::tr("show the whole picture"), {Qt::Key_0}},

        {layNext, onCompare, KeyWords::tr("beside, over each other, in space"), {Qt::Key_O}},
        {mirror, onCompare, KeyWords::tr("the other one in a mirror"), {Qt::Key_M}},
        {otherBack,
         onCompare,
         KeyWords::tr("the other one a frame back against this one"),
         {Qt::ALT | Qt::Key_Left}},
        {otherOn,
         onCompare,
         KeyWords::tr("the other one a frame on against this one"),
         {Qt::ALT | Qt::Key_Right}},

        {repBefore, onBench, KeyWords::tr("the rep before"), {Qt::Key_PageUp}},
        {repAfter, onBench, KeyWords::tr("the rep after"), {Qt::Key_PageDown}},
        {setPosition, onBench, KeyWords::tr("the frame shown is this position"), {Qt::Key_P}},
        {checkNext,
         onBench,
         KeyWords::tr("check the proposed position or landmark that matters most"),
         {Qt::Key_N}},
        {confirm, onBench, KeyWords::tr("what is asked about is right"), {Qt::Key_Return}},
        {confirmAll,
         onBench,
         KeyWords::tr("this position and all its landmarks are right"),
         {shift | Qt::Key_Return}},
        {hide, onBench, KeyWords::tr("the landmark cannot be seen here"), {Qt::Key_H}},
        {remove,
         onBench,
         KeyWords::tr("remove the chosen landmark"),
         {Qt::Key_Delete, Qt::Key_Backspace}},
        {letGo, onBench, KeyWords::tr("let go of the chosen landmark"), {Qt::Key_Escape}},
        {nudge,
         onBench,
         KeyWords::tr("move the chosen landmark by a quarter pixel; with Shift by two"),
         {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down, shift | Qt::Key_Left,
          shift | Qt::Key_Right, shift | Qt::Key_Up, shift | Qt::Key_Down},
         KeyWords::tr("← → ↑ ↓")},
        {copy,
         onBench,
         KeyWords::tr("put the landmark where it is in the frame before"),
         {Qt::Key_C}},
        {swapSides, onBench, KeyWords::tr("swap left and right in this frame"), {Qt::Key_X}},
        {propose, onBench, KeyWords::tr("propose landmarks, or stop it"), {Qt::Key_L}},
        {proposeWhom,
         onBench,
         KeyWords::tr("propose landmarks of the player clicked next"),
         {shift | Qt::Key_L}},
        {trackOn,
         onBench,
         KeyWords::tr("track on from this frame, of the player clicked next"),
         {Qt::Key_T}},
        {follow, onBench, KeyWords::tr("follow what is placed through the film"), {Qt::Key_F}},
        {answerYes, onBench, KeyWords::tr("answer the open question: yes"), {Qt::Key_Y}},
        {answerNo, onBench, KeyWords::tr("answer the open question: no"), {shift | Qt::Key_Y}},
        {answerNotVisible,
         onBench,
         KeyWords::tr("answer the open question: not visible"),
         {Qt::ALT | Qt::Key_Y}},
        {curves, onBench, KeyWords::tr("curves over time below the film, or away"), {Qt::Key_V}},
        {body, onBench, KeyWords::tr("the body in space beside the film, or away"), {Qt::Key_B}},
        {bodyFromSide, onBench, KeyWords::tr("the body in space from the side"), {Qt::Key_S}},
        {bodyFromFront, onBench, KeyWords::tr("the body in space from the front"), {Qt::Key_D}},
        {bodyFromAbove, onBench, KeyWords::tr("the body in space from above"), {Qt::Key_A}},
        {swapDepth,
         onBench,
         KeyWords::tr("the other hip or shoulder is nearer; how a limb lies in depth"),
         {Qt::Key_Z}},
        {zoomIn, onBench, KeyWords::tr("zoom in"), {Qt::Key_Plus, Qt::Key_Equal}},
        {zoomOut, onBench, KeyWords::tr("zoom out"), {Qt::Key_Minus}},
    };
}

std::optional<Action> actionFor(const QKeyEvent& event, Where where) {
    const std::vector<KeyRow> table = keyTable();
    const auto asked = [&](Where here) -> std::optional<Action> {
        for (const KeyRow& row : table) {
            if (row.where == here &&
                std::any_of(row.keys.begin(), row.keys.end(),
                            [&](const QKeySequence& key) { return matches(event, key); })) {
                return row.action;
            }
        }
        return std::nullopt;
    };
    auto action = asked(where);
    // Bench and Compare show a rep's marks and the film, too.
    const bool marks = where == Where::onBench || where == Where::onCompare;
    for (const Where besides : {Where::onMarks, Where::onFilm}) {
        if (!action && marks) {
            action = asked(besides);
        }
    }
    return action;
}

QStringList keyNames(const KeyRow& row) {
    QStringList names;
    if (!row.shown.isEmpty()) {
        names << row.shown;
    } else {
        for (const QKeySequence& key : row.keys) {
            names << spoken(key);
        }
    }
    names.removeDuplicates();
    return names;
}

std::vector<QKeySequence> keysOf(Action action) {
    return rowOf(keyTable(), action).keys;
}

QString keyName(Action action) {
    const std::vector<KeyRow> table = keyTable();
    return keyNames(rowOf(table, action)).front();
}

QString keySign(Action action) {
    return keyName(action).replace("Shift+", "⇧").replace(KeyWords::tr("Enter"), "↵");
}

} // namespace kestrel::words
