#include "desk/edit_stack.h"

#include <QUndoCommand>

namespace kestrel::desk {

/// An edit on Qt's stack. The stack only keeps the order: what an edit does is done before the
/// stack moves, for only then can it fail without the stack having moved.
class EditStack::Command : public QUndoCommand {
  public:
    explicit Command(Edit edit) : QUndoCommand(edit.name), edit_(std::move(edit)) {}

    [[nodiscard]] const Edit& edit() const { return edit_; }

    [[nodiscard]] int id() const override { return edit_.gesture ? edit_.gesture->number : -1; }
    bool mergeWith(const QUndoCommand* next) override {
        const Edit& later = static_cast<const Command*>(next)->edit_;
        if (later.gesture != edit_.gesture || later.name != edit_.name) {
            return false;
        }
        edit_.apply = later.apply;
        return true;
    }

  private:
    Edit edit_;
};

bool EditStack::change(const std::function<void()>& work) {
    return problems_.trying([&] { library_.atomically(work); });
}

void EditStack::tell(const Edit& edit, const std::function<void()>& then) {
    emit changed();
    if (edit.touches == Touches::records) {
        emit recordsChanged();
    }
    if (then) {
        problems_.trying(then);
    }
}

bool EditStack::apply(Edit edit) {
    refusedEdit_ = edit; // told of with the problem, so that it is there by then
    if (!change(edit.apply)) {
        emit refused();
        return false;
    }
    refusedEdit_.reset();
    const Edit done = edit;
    stack_.push(new Command(std::move(edit)));
    tell(done, done.then);
    return true;
}

bool EditStack::tryAgain() {
    return refusedEdit_ && apply(Edit(*refusedEdit_));
}

bool EditStack::undo() {
    if (!stack_.canUndo()) {
        return false;
    }
    refusedEdit_.reset();
    const Edit edit = static_cast<const Command*>(stack_.command(stack_.index() - 1))->edit();
    if (!change(edit.revert)) {
        emit refused();
        return false;
    }
    stack_.undo();
    tell(edit, edit.thenReverted);
    return true;
}

bool EditStack::redo() {
    if (!stack_.canRedo()) {
        return false;
    }
    refusedEdit_.reset();
    const Edit edit = static_cast<const Command*>(stack_.command(stack_.index()))->edit();
    if (!change(edit.apply)) {
        emit refused();
        return false;
    }
    stack_.redo();
    tell(edit, edit.then);
    return true;
}

bool EditStack::writeUnasked(const std::function<void()>& work) {
    if (!change(work)) {
        return false;
    }
    emit changed();
    emit recordsChanged();
    return true;
}

} // namespace kestrel::desk
