#pragma once

#include "app/main_window.h"
#include "app/shared/stage.h"
#include "app/theme.h"
#include "desk/desk.h"
#include "support/day.h"
#include "support/test_films.h"

#include <QApplication>
#include <QDialog>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <QToolButton>
#include <QTreeWidget>

#include <filesystem>
#include <memory>

/// A real window on a library of its own, and hands to work it with.
namespace kestrel::support {

/// How long a test waits for a condition: far longer than it takes, so that a computer that is busy
/// with other work fails no test.
inline constexpr int patientMs = 120000;

/// Fills in the dialog that the next press opens.
template <class Work> void whenDialogOpens(Work work) {
    auto* timer = new QTimer(QApplication::instance());
    QObject::connect(timer, &QTimer::timeout, timer, [timer, work] {
        if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
            timer->stop();
            timer->deleteLater();
            work(dialog);
        }
    });
    timer->start(20);
}

/// Chooses a file in the file dialog that the next press opens.
void whenAskedForAFile(const QString& file);

/// What day it is in all windows of the tests, unless they say otherwise: a Monday, some days after
/// the visits.
inline const model::Day testDay = "2026-11-23"_day;

class Window {
  public:
    explicit Window(const std::filesystem::path& library);

    void reopen(const std::filesystem::path& library);

    /// Another day from now on.
    void setDay(model::Day day) { *day_ = day; }

    /// Other packs from the next reopen() on.
    void setPacks(std::filesystem::path packs) { packs_ = std::move(packs); }

    [[nodiscard]] desk::Desk& desk() { return *desk_; }
    /// The open library, to write into behind the window's back.
    [[nodiscard]] records::Library& library() { return *library_; }
    [[nodiscard]] app::MainWindow& main() { return *main_; }

    /// The visible widget of that name; the test fails when there is none.
    template <class T = QWidget> T* find(const QString& name) {
        T* hidden = nullptr;
        for (T* widget : main_->findChildren<T*>(name)) {
            if (widget->isVisible()) {
                return widget;
            }
            hidden = widget;
        }
        if (hidden == nullptr) {
            qFatal("no widget %s", qPrintable(name));
        }
        return hidden;
    }

    void press(const QString& button);
    QString text(const QString& label);

    /// The message on screen, once it comes up; closed again.
    QString problem();

    /// Types a key where the focus is.
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);

    void waitForPicture();

    /// Lets everything happen that is waiting to happen at once: forms built anew, widgets gone.
    static void settle();

    /// Clicks the stage where a picture point is shown.
    void clickPicture(model::Point2 at, Qt::KeyboardModifiers modifiers = Qt::NoModifier);

    /// The row of the readings list for a measure: reading and verdict as shown; empty when absent.
    QStringList readingRow(const std::string& measure);

    void clickReading(const std::string& measure);

  private:
    std::filesystem::path packs_ = KESTREL_PACKS;
    std::shared_ptr<model::Day> day_ = std::make_shared<model::Day>(testDay);
    std::unique_ptr<records::Library> library_;
    std::unique_ptr<desk::Desk> desk_;
    std::unique_ptr<app::MainWindow> main_;
};

/// Adds a player with that hand and the film as a clip, view and rate said. Returns the clip's id.
model::ClipId addClip(Window& window, const TestFilm& film);

/// The same with all true positions and landmarks marked.
model::ClipId addMarkedClip(Window& window, const TestFilm& film);

/// Another clip of the first player, filmed on that day, with all true positions and the landmarks
/// at them marked. Its film is a copy that gets a content of its own, made in `folder`.
model::ClipId addAnotherClip(Window& window, const TestFilm& film, model::Day filmed,
                             const std::filesystem::path& folder);

} // namespace kestrel::support
