#include "desk/edit_stack.h"
#include "desk/open_clip.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include <SQLiteCpp/Database.h>

#include <memory>
#include <type_traits>

using namespace kestrel;

// An id of one kind does not pass for one of another.
static_assert(
    std::is_invocable_v<decltype(&desk::OpenClip::openRep), desk::OpenClip&, model::RepId>);
static_assert(
    !std::is_invocable_v<decltype(&desk::OpenClip::openRep), desk::OpenClip&, model::ClipId>);
static_assert(!std::is_invocable_v<decltype(&desk::OpenClip::openRep), desk::OpenClip&, int>);

/// Edits are done as a whole or not at all, whatever happens to the disk below them.
class TestEditStack : public QObject {
    Q_OBJECT
  private slots:
    void init();
    void aRefusedEditLeavesNothingBehind();
    void aRefusedEditCanBeTriedAgain();
    void aRefusedUndoCanBeTriedAgain();
    void aNewEditForgetsTheRefusedOne();
    void editsOfOneGestureAreOne();
    void otherGesturesRepsAndLandmarksAreNot();

  private:
    /// Renames the player; the change is two writes, so that half of it could stay.
    desk::Edit rename(const std::string& to) {
        return {.name = "Rename",
                .apply =
                    [this, to] {
                        write(to);
                        library_->setSetting("last_name", to);
                    },
                .revert = [this, old = name()] { write(old); }};
    }
    void write(const std::string& to) {
        model::Player player = *library_->player(player_);
        player.name = to;
        library_->save(player);
    }
    [[nodiscard]] std::string name() const { return library_->player(player_)->name; }
    /// Another program that writes to the library until this is gone.
    [[nodiscard]] std::unique_ptr<SQLite::Database> lock() const {
        auto other = std::make_unique<SQLite::Database>(
            folder_->filePath("library.sqlite").toStdString(), SQLite::OPEN_READWRITE);
        other->exec("BEGIN IMMEDIATE");
        return other;
    }
    void nudge(int to, const desk::Gesture& gesture) {
        stack_->apply(
            {.name = "Move lead knee, frame 12",
             .apply = [this, to] { library_->setSetting("x", std::to_string(to)); },
             .revert = [this, old = library_->setting("x")] { library_->setSetting("x", old); },
             .gesture = gesture});
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<records::Library> library_;
    std::unique_ptr<desk::Problems> problems_;
    std::unique_ptr<desk::EditStack> stack_;
    model::PlayerId player_;
};

void TestEditStack::init() {
    stack_.reset();
    library_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    constexpr std::chrono::milliseconds patience{50};
    library_ = std::make_unique<records::Library>(folder_->path().toStdString(), patience);
    problems_ = std::make_unique<desk::Problems>();
    stack_ = std::make_unique<desk::EditStack>(*library_, *problems_);
    model::Player player;
    player.name = "Mika";
    player_ = library_->save(player);
}

void TestEditStack::aRefusedEditLeavesNothingBehind() {
    QVERIFY(stack_->apply(rename("Juno")));
    QVERIFY(stack_->undo());
    QSignalSpy told(problems_.get(), &desk::Problems::told);
    QSignalSpy refused(stack_.get(), &desk::EditStack::refused);
    bool second = false;
    const bool done = stack_->apply({.name = "Half",
                                     .apply =
                                         [&] {
                                             write("Half");
                                             second = true;
                                             throw std::runtime_error("the disk is gone");
                                         },
                                     .revert = [] {}});
    QVERIFY(second && !done);
    QCOMPARE(told.count(), 1);
    QVERIFY(told.front().front().value<desk::Problem>().happened.contains("the disk is gone"));
    QCOMPARE(refused.count(), 1);
    QCOMPARE(name(), std::string("Mika"));
    QVERIFY(!stack_->stack().canUndo());
    QCOMPARE(stack_->stack().redoText(), QString("Rename")); // what was taken back is still there
    QVERIFY(stack_->redo());
    QCOMPARE(name(), std::string("Juno"));
}

void TestEditStack::aRefusedEditCanBeTriedAgain() {
    auto other = lock();
    QSignalSpy told(problems_.get(), &desk::Problems::told);
    QVERIFY(!stack_->apply(rename("Juno")));
    QVERIFY(told.front().front().value<desk::Problem>().happened.contains("database is locked"));
    QVERIFY(told.front().front().value<desk::Problem>().todo.contains("Wait"));
    QVERIFY(stack_->canTryAgain());
    QVERIFY(!stack_->tryAgain()); // still locked
    QCOMPARE(name(), std::string("Mika"));
    other.reset();
    QVERIFY(stack_->tryAgain());
    QVERIFY(!stack_->canTryAgain());
    QCOMPARE(name(), std::string("Juno"));
    QVERIFY(stack_->undo());
    QCOMPARE(name(), std::string("Mika"));
}

void TestEditStack::aRefusedUndoCanBeTriedAgain() {
    QVERIFY(stack_->apply(rename("Juno")));
    auto other = lock();
    QVERIFY(!stack_->undo());
    QCOMPARE(name(), std::string("Juno"));
    QVERIFY(stack_->stack().canUndo() && !stack_->stack().canRedo());
    other.reset();
    QVERIFY(stack_->undo());
    QCOMPARE(name(), std::string("Mika"));
    other = lock();
    QVERIFY(!stack_->redo());
    QVERIFY(!stack_->stack().canUndo() && stack_->stack().canRedo());
    other.reset();
    QVERIFY(stack_->redo());
    QCOMPARE(name(), std::string("Juno"));
}

void TestEditStack::aNewEditForgetsTheRefusedOne() {
    auto other = lock();
    QVERIFY(!stack_->apply(rename("Juno")));
    other.reset();
    QVERIFY(stack_->apply(rename("Bo")));
    QVERIFY(!stack_->canTryAgain());
    QVERIFY(!stack_->tryAgain());
    QCOMPARE(name(), std::string("Bo"));
}

void TestEditStack::editsOfOneGestureAreOne() {
    const desk::Gesture gesture{model::RepId(1), 12, model::Landmark::leftKnee,
                                stack_->newGesture()};
    nudge(1, gesture);
    nudge(2, gesture);
    nudge(3, gesture);
    QCOMPARE(stack_->stack().count(), 1);
    QVERIFY(stack_->undo());
    QCOMPARE(library_->setting("x"), std::string());
    QVERIFY(stack_->redo());
    QCOMPARE(library_->setting("x"), std::string("3"));
}

void TestEditStack::otherGesturesRepsAndLandmarksAreNot() {
    const desk::Gesture first{model::RepId(1), 12, model::Landmark::leftKnee, stack_->newGesture()};
    nudge(1, first);
    desk::Gesture other = first;
    other.rep = model::RepId(2); // the same frame and landmark of another clip's rep
    nudge(2, other);
    other = first;
    other.landmark = model::Landmark::rightKnee;
    nudge(3, other);
    other = first;
    other.frame = 13;
    nudge(4, other);
    other = first;
    other.number = stack_->newGesture(); // the next row of nudges
    nudge(5, other);
    QCOMPARE(stack_->stack().count(), 5);
    QVERIFY(stack_->undo());
    QCOMPARE(library_->setting("x"), std::string("4"));
}

QTEST_GUILESS_MAIN(TestEditStack)
#include "test_edit_stack.moc"
