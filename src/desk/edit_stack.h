#pragma once

#include "desk/problems.h"
#include "model/landmark.h"
#include "records/library.h"

#include <QObject>
#include <QUndoStack>

#include <functional>
#include <optional>

namespace kestrel::desk {

/// A row of nudges of one landmark: its edits are one for undo, as long as they concern the same
/// landmark in the same frame of the same rep.
struct Gesture {
    model::RepId rep;
    int frame = 0;
    model::Landmark landmark{};
    int number = 0; ///< of all gestures: the next row of nudges has another

    friend bool operator==(const Gesture&, const Gesture&) = default;
};

/// What an edit touches besides the marks of the open rep.
enum class Touches {
    marks,   ///< nothing besides
    records, ///< players or clips, as Squad lists them
};

struct Edit {
    QString name;                 ///< "Move lead knee, frame 118"
    std::function<void()> apply;  ///< writes to the library
    std::function<void()> revert; ///< the way back
    Touches touches = Touches::marks;
    std::optional<Gesture> gesture = {};
    /// What follows once the edit is on disk, such as opening what was added.
    std::function<void()> then = {};
    std::function<void()> thenReverted = {};
};

/// The coach's edits, each a named command with its way back. An edit is on disk as a whole when
/// the call returns, or nothing of it is: then the problem is told and the stack is as it was, so
/// that doing, undoing or redoing can be tried again.
class EditStack : public QObject {
    Q_OBJECT
  public:
    EditStack(records::Library& library, Problems& problems)
        : library_(library), problems_(problems) {}

    /// Applies an edit and keeps it for undo. Whether it was applied.
    bool apply(Edit edit);
    bool apply(const QString& name, std::function<void()> apply, std::function<void()> revert) {
        return this->apply({.name = name, .apply = std::move(apply), .revert = std::move(revert)});
    }
    /// Whether the edit that came last was refused and nothing was done since; tryAgain() applies
    /// it once more. So that what took long to find is not lost.
    [[nodiscard]] bool canTryAgain() const { return refusedEdit_.has_value(); }
    bool tryAgain();
    /// Takes the last edit back, or does the one taken back last again. Whether that was done.
    bool undo();
    bool redo();

    /// Writes what a machine found without being asked: as a whole or not at all, told of as an
    /// edit is, but no edit of the coach's: undo takes back what the coach did last, and never
    /// this. Whether it was written.
    bool writeUnasked(const std::function<void()>& work);

    /// A number for a new gesture.
    [[nodiscard]] int newGesture() { return ++gestures_; }

    /// Names of what can be undone and redone, and the signal indexChanged. To read: only this
    /// class moves along it.
    [[nodiscard]] const QUndoStack& stack() const { return stack_; }

  signals:
    /// An edit was done, undone or done again.
    void changed();
    /// One was not, and nothing of it is kept: what is shown is to be read anew.
    void refused();
    /// Players or clips changed; after changed().
    void recordsChanged();

  private:
    class Command;

    bool change(const std::function<void()>& work);
    void tell(const Edit& edit, const std::function<void()>& then);

    records::Library& library_;
    Problems& problems_;
    QUndoStack stack_;
    std::optional<Edit> refusedEdit_;
    int gestures_ = 0;
};

} // namespace kestrel::desk
