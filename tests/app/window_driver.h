#pragma once

#include "app/main_window.h"
#include "app/session.h"
#include "app/shared/stage.h"
#include "app/theme.h"
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

class Window {
  public:
    explicit Window(const std::filesystem::path& library);

    void reopen(const std::filesystem::path& library);

    [[nodiscard]] app::Session& session() { return *session_; }
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

    /// Clicks the stage where a picture point is shown.
    void clickPicture(model::Point2 at, Qt::KeyboardModifiers modifiers = Qt::NoModifier);

    /// The row of the readings list for a measure: reading and verdict as shown; empty when absent.
    QStringList readingRow(const std::string& measure);

    void clickReading(const std::string& measure);

  private:
    std::unique_ptr<app::Session> session_;
    std::unique_ptr<app::MainWindow> main_;
};

/// Adds a player with that hand and the film as a clip, view and rate said. Returns the clip's id.
model::Id addClip(app::Session& session, const TestFilm& film);

/// The same with all true positions and landmarks marked.
model::Id addMarkedClip(app::Session& session, const TestFilm& film);

} // namespace kestrel::support
