#include "window/window_driver.h"
#include "support/commands.h"
#include "words/language.h"

namespace kestrel::support {

void whenAskedForAFile(const QString& file) {
    whenDialogOpens([file](QDialog* dialog) {
        auto* chooser = qobject_cast<QFileDialog*>(dialog);
        QVERIFY(chooser != nullptr);
        chooser->findChild<QLineEdit*>("fileNameEdit")->setText(file);
        static_cast<QDialog*>(chooser)->accept();
    });
}

Window::Window(const std::filesystem::path& library) {
    static const bool spoken = [] {
        words::applyLanguage(*qobject_cast<QApplication*>(QApplication::instance()));
        return true;
    }();
    Q_UNUSED(spoken);
    reopen(library);
}

void Window::reopen(const std::filesystem::path& library) {
    main_.reset();
    desk_.reset();
    library_.reset();
    // Short of patience: the tests that lock the library do so on purpose.
    constexpr std::chrono::milliseconds patience{200};
    library_ = std::make_unique<records::Library>(library, patience);
    desk_ = std::make_unique<desk::Desk>(*library_, packs_, [day = day_] { return *day; });
    // This coach has always filmed pitchers.
    library_->setSetting("technique", "overhand_pitch");
    main_ = std::make_unique<app::MainWindow>(*desk_);
    QObject::connect(&desk_->problems, &desk::Problems::told, main_.get(),
                     [](const desk::Problem& problem) {
                         qWarning("problem: %s", qPrintable(problem.happened));
                     });
    main_->resize(1280, 800);
    main_->show();
    main_->continueWhereLeft();
    QApplication::processEvents();
}

void Window::press(const QString& button) {
    QApplication::processEvents(); // let a station that has just appeared lay itself out
    // What was ready a moment ago may be made anew by the events just handled: a coach waits, too.
    QTRY_VERIFY2_WITH_TIMEOUT(find(button)->isEnabled(), qPrintable(button), patientMs);
    QTest::mouseClick(find(button), Qt::LeftButton);
}

QString Window::text(const QString& label) {
    return find<QLabel>(label)->text();
}

QString Window::problem() {
    QMessageBox* box = nullptr;
    [&] {
        QTRY_VERIFY_WITH_TIMEOUT((box = main_->findChild<QMessageBox*>("problem")) != nullptr,
                                 patientMs);
    }();
    if (box == nullptr) {
        return {};
    }
    const QString text = box->text() + " " + box->informativeText();
    box->button(QMessageBox::Ok)->click();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    return text;
}

void Window::key(Qt::Key key, Qt::KeyboardModifiers modifiers) {
    QWidget* target = main_->focusWidget() != nullptr ? main_->focusWidget() : main_.get();
    QTest::keyClick(target, key, modifiers);
}

void Window::settle() {
    constexpr int generations = 4; // what happens may post more
    for (int i = 0; i < generations; ++i) {
        QCoreApplication::processEvents();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
}

void Window::waitForPicture() {
    QTRY_VERIFY_WITH_TIMEOUT(
        desk_->open.hasClip() && !desk_->open.picture(desk_->open.frame()).isNull(), patientMs);
}

void Window::clickPicture(model::Point2 at, Qt::KeyboardModifiers modifiers) {
    auto* stage = find<app::Stage>("stage");
    const QPointF on = stage->pictureToWidget().map(QPointF(at.x, at.y));
    QTest::mouseClick(stage, Qt::LeftButton, modifiers, on.toPoint());
}

QStringList Window::readingRow(const std::string& measure) {
    auto* tree = find<QTreeWidget>("readings");
    for (int i = 0; i < tree->topLevelItemCount(); ++i) {
        QTreeWidgetItem* item = tree->topLevelItem(i);
        if (item->data(0, Qt::UserRole).toString().toStdString() == measure) {
            return {item->text(0), item->text(1), item->text(2)};
        }
    }
    return {};
}

void Window::clickReading(const std::string& measure) {
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

model::ClipId addClip(Window& window, const TestFilm& film) {
    model::Player player;
    player.name = "Mika Sorrel";
    player.born = "2014-03-18"_day;
    player.hand = film.spec.player.hand;
    player.consentGiven = "2026-09-01"_day;
    const model::PlayerId id = window.library().save(player);
    const auto stored = records::storeFilm(filmFile(film), window.library().clipFolder());
    model::Clip clip = records::addClip(window.library(), id, *stored, "Pitch 1", "overhand_pitch");
    clip.captureRate = film.spec.captureRate;
    clip.view = model::View::openSide;
    clip.filmed = "2026-11-20"_day;
    window.library().save(clip);
    emit window.desk().edits.recordsChanged();
    return clip.id;
}

model::ClipId addMarkedClip(Window& window, const TestFilm& film) {
    const model::ClipId clip = addClip(window, film);
    model::Rep rep = window.library().reps(clip).front();
    const model::Rep truth = trueRep(film.spec);
    rep.positions = truth.positions;
    for (const auto& [id, frame] : rep.positions) {
        rep.landmarks[frame] = truth.landmarks.at(frame);
    }
    window.library().save(rep);
    emit window.desk().edits.recordsChanged();
    return clip;
}

model::ClipId addAnotherClip(Window& window, const TestFilm& film, model::Day filmed,
                             const std::filesystem::path& folder) {
    records::Library& library = window.library();
    const model::PlayerId player = library.players().front().id;
    const std::size_t number = library.clips(player).size();
    std::filesystem::create_directories(folder);
    const std::filesystem::path copy = folder / (std::to_string(number) + ".mp4");
    makeFilm({"-i", QString::fromStdString(filmFile(film).string()), "-c", "copy", "-metadata",
              QString("title=%1").arg(number)},
             copy);
    const auto stored = records::storeFilm(copy, library.clipFolder());
    model::Clip clip = records::addClip(library, player, *stored, "Other", "overhand_pitch");
    clip.captureRate = film.spec.captureRate;
    clip.view = model::View::openSide;
    clip.filmed = filmed;
    library.save(clip);
    model::Rep rep = library.reps(clip.id).front();
    const model::Rep truth = trueRep(film.spec);
    rep.positions = truth.positions;
    for (const auto& [id, frame] : rep.positions) {
        rep.landmarks[frame] = truth.landmarks.at(frame);
    }
    library.save(rep);
    emit window.desk().edits.recordsChanged();
    return clip.id;
}

} // namespace kestrel::support
