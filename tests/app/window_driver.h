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
inline void whenAskedForAFile(const QString& file) {
    whenDialogOpens([file](QDialog* dialog) {
        auto* chooser = qobject_cast<QFileDialog*>(dialog);
        QVERIFY(chooser != nullptr);
        chooser->findChild<QLineEdit*>("fileNameEdit")->setText(file);
        static_cast<QDialog*>(chooser)->accept();
    });
}

class Window {
  public:
    explicit Window(const std::filesystem::path& library) { reopen(library); }

    void reopen(const std::filesystem::path& library) {
        main_.reset();
        session_.reset();
        session_ = std::make_unique<app::Session>(library, KESTREL_PACKS);
        // This coach has always filmed pitchers.
        session_->library().setSetting("technique", "overhand_pitch");
        main_ = std::make_unique<app::MainWindow>(*session_);
        QObject::connect(
            session_.get(), &app::Session::problem, main_.get(),
            [](const QString& happened) { qWarning("problem: %s", qPrintable(happened)); });
        main_->resize(1280, 800);
        main_->show();
        main_->continueWhereLeft();
        QApplication::processEvents();
    }

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

    void press(const QString& button) {
        QApplication::processEvents(); // let a station that has just appeared lay itself out
        QTest::mouseClick(find(button), Qt::LeftButton);
    }
    QString text(const QString& label) { return find<QLabel>(label)->text(); }

    /// The message on screen, once it comes up; closed again.
    QString problem() {
        QMessageBox* box = nullptr;
        [&] {
            QTRY_VERIFY_WITH_TIMEOUT((box = main_->findChild<QMessageBox*>("problem")) != nullptr,
                                     20000);
        }();
        if (box == nullptr) {
            return {};
        }
        const QString text = box->text() + " " + box->informativeText();
        box->button(QMessageBox::Ok)->click();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return text;
    }

    /// Types a key where the focus is.
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QWidget* target = main_->focusWidget() != nullptr ? main_->focusWidget() : main_.get();
        QTest::keyClick(target, key, modifiers);
    }

    void waitForPicture() {
        QTRY_VERIFY_WITH_TIMEOUT(
            session_->hasClip() && !session_->picture(session_->frame()).isNull(), 20000);
    }

    /// Clicks the stage where a picture point is shown.
    void clickPicture(model::Point2 at, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        auto* stage = find<app::Stage>("stage");
        const QPointF on = stage->pictureToWidget().map(QPointF(at.x, at.y));
        QTest::mouseClick(stage, Qt::LeftButton, modifiers, on.toPoint());
    }

    /// The row of the readings list for a measure: reading and verdict as shown; empty when absent.
    QStringList readingRow(const std::string& measure) {
        auto* tree = find<QTreeWidget>("readings");
        for (int i = 0; i < tree->topLevelItemCount(); ++i) {
            QTreeWidgetItem* item = tree->topLevelItem(i);
            if (item->data(0, Qt::UserRole).toString().toStdString() == measure) {
                return {item->text(0), item->text(1), item->text(2)};
            }
        }
        return {};
    }

    void clickReading(const std::string& measure) {
        auto* tree = find<QTreeWidget>("readings");
        for (int i = 0; i < tree->topLevelItemCount(); ++i) {
            QTreeWidgetItem* item = tree->topLevelItem(i);
            if (item->data(0, Qt::UserRole).toString().toStdString() == measure) {
                tree->scrollToItem(item);
                QTest::mouseClick(tree->viewport(), Qt::LeftButton, Qt::NoModifier,
                                  tree->visualItemRect(item).center());
                return;
            }
        }
        qFatal("no reading %s", measure.c_str());
    }

  private:
    std::unique_ptr<app::Session> session_;
    std::unique_ptr<app::MainWindow> main_;
};

/// Adds a player with that hand and the film as a clip, view and rate said. Returns the clip's id.
inline model::Id addClip(app::Session& session, const TestFilm& film) {
    model::Player player;
    player.name = "Mika Sorrel";
    player.born = "2014-03-18";
    player.hand = film.spec.player.hand;
    player.consentGiven = "2026-09-01";
    const model::Id id = session.library().save(player);
    const auto stored = records::storeFilm(filmFile(film), session.library().clipFolder());
    model::Clip clip =
        records::addClip(session.library(), id, *stored, "Pitch 1", "overhand_pitch");
    clip.captureRate = film.spec.captureRate;
    clip.view = model::View::openSide;
    clip.filmed = "2026-11-20";
    session.library().save(clip);
    emit session.recordsChanged();
    return clip.id;
}

/// The same with all true positions and landmarks marked.
inline model::Id addMarkedClip(app::Session& session, const TestFilm& film) {
    const model::Id clip = addClip(session, film);
    model::Rep rep = session.library().reps(clip).front();
    const model::Rep truth = trueRep(film.spec);
    rep.positions = truth.positions;
    for (const auto& [id, frame] : rep.positions) {
        rep.landmarks[frame] = truth.landmarks.at(frame);
    }
    session.library().save(rep);
    emit session.recordsChanged();
    return clip;
}

} // namespace kestrel::support
