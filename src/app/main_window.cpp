#include "app/main_window.h"

#include "app/background.h"
#include "app/bench/bench_station.h"
#include "app/film/film_station.h"
#include "app/packs/packs_station.h"
#include "app/plan/plan_station.h"
#include "app/shared/icon.h"
#include "app/squad/squad_station.h"
#include "model/input_error.h"
#include "records/clip_store.h"

#include <QButtonGroup>
#include <QCloseEvent>
#include <QCoreApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QMimeData>
#include <QProgressBar>
#include <QPushButton>
#include <QShortcut>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

#include <array>

namespace kestrel::app {
namespace {

struct StationEntry {
    MainWindow::Station station;
    const char* id;
    const char* name;
    const char* iconName;
    Qt::Key key;
};

constexpr std::array stations{
    StationEntry{MainWindow::squad, "squad", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Squad"),
                 "squad", Qt::Key_F1},
    StationEntry{MainWindow::film, "film", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Film"),
                 "film", Qt::Key_F2},
    StationEntry{MainWindow::bench, "bench", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Bench"),
                 "bench", Qt::Key_F3},
    StationEntry{MainWindow::plan, "plan", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Plan"),
                 "plan", Qt::Key_F4},
    StationEntry{MainWindow::packs, "packs", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Packs"),
                 "packs", Qt::Key_F8},
};

} // namespace

/// Progress of a film being copied, shared with the thread that copies it.
struct MainWindow::Import {
    std::atomic<bool> cancelled = false;
};

MainWindow::MainWindow(Session& session, QWidget* parent) : QMainWindow(parent), session_(session) {
    setObjectName("mainWindow");
    setWindowIcon(icon("kestrel"));
    setAcceptDrops(true);
    connect(&session_, &Session::clipOpened, this,
            [this] { thumbnails_.setFilm(session_.index()); });

    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeRail());
    auto* column = new QVBoxLayout;
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeHeader());
    stack_ = new QStackedWidget;
    squad_ = new SquadStation(session_);
    film_ = new FilmStation(session_, thumbnails_);
    bench_ = new BenchStation(session_, thumbnails_);
    plan_ = new PlanStation(session_);
    packs_ = new PacksStation(session_);
    for (QWidget* station : std::initializer_list<QWidget*>{squad_, film_, bench_, plan_, packs_}) {
        stack_->addWidget(station);
    }
    column->addWidget(stack_, 1);
    row->addLayout(column, 1);
    setCentralWidget(whole);

    connect(squad_, &SquadStation::openClip, this, &MainWindow::openFromSquad);
    connect(squad_, &SquadStation::bringIn, this, &MainWindow::askForFilms);
    connect(film_, &FilmStation::bringIn, this, &MainWindow::askForFilms);
    connect(film_, &FilmStation::toBench, this, [this] { goTo(bench); });
    connect(plan_, &PlanStation::showPosition, this, &MainWindow::showOnBench);
    connect(&session_, &Session::problem, this, &MainWindow::showProblem);
    connect(&session_, &Session::filmLost, this, &MainWindow::askForLostFilm);
    connect(&session_, &Session::repOpened, this, [this] { showTitle(); });
    connect(&session_, &Session::clipOpened, this, [this] {
        showTitle();
        if (const auto wanted = std::exchange(wantedOnBench_, std::nullopt)) {
            toBenchWhenOpen_ = false;
            // Once the session has gone to where the coach was last.
            QMetaObject::invokeMethod(
                this, [this, wanted] { showOnBench(wanted->first, wanted->second); },
                Qt::QueuedConnection);
            return;
        }
        if (toBenchWhenOpen_) {
            toBenchWhenOpen_ = false;
            // What the camera was must be said before anything can be read.
            const bool asked = session_.captureRateMissing() || !session_.clip().view;
            goTo(asked ? film : bench);
        }
    });
    connect(&session_, &Session::clipClosed, this, [this] { showTitle(); });
    connect(&session_, &Session::marksChanged, this, [this] { showTitle(); });
    for (const StationEntry& entry : stations) {
        auto* shortcut = new QShortcut(QKeySequence(entry.key), this);
        connect(shortcut, &QShortcut::activated, this, [this, s = entry.station] { goTo(s); });
    }
    showTitle();
    rail_->button(squad)->setChecked(true);
}

void MainWindow::showOnBench(qint64 repId, const QString& positionId) {
    const auto rep = session_.library().rep(repId);
    if (!rep) {
        return;
    }
    if (!session_.hasClip() || rep->clipId != session_.clip().id) {
        wantedOnBench_ = {repId, positionId};
        session_.openClip(rep->clipId);
        return;
    }
    session_.openRep(repId);
    goTo(bench);
    bench_->choosePosition(positionId.toStdString());
}

MainWindow::~MainWindow() {
    // What is being typed is finished while everything is still there, and nothing of the session
    // reaches a window that is half gone.
    if (QWidget* typedIn = focusWidget()) {
        typedIn->clearFocus();
    }
    session_.disconnect(this);
    if (import_) {
        import_->cancelled = true;
    }
}

QWidget* MainWindow::makeRail() {
    auto* rail = new QWidget;
    rail->setObjectName("rail");
    auto* column = new QVBoxLayout(rail);
    column->setContentsMargins(4, 10, 4, 10);
    column->setSpacing(6);
    rail_ = new QButtonGroup(this);
    for (const StationEntry& entry : stations) {
        auto* button = new QToolButton;
        button->setObjectName(QStringLiteral("station_%1").arg(entry.id));
        button->setText(tr(entry.name));
        button->setAccessibleName(tr("%1 station").arg(tr(entry.name)));
        button->setToolTip(tr("%1 (%2)").arg(tr(entry.name), QKeySequence(entry.key).toString()));
        button->setIcon(icon(entry.iconName));
        button->setIconSize({30, 30});
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setCheckable(true);
        button->setFocusPolicy(Qt::TabFocus);
        constexpr int side = 70;
        button->setFixedSize(side, side);
        rail_->addButton(button, entry.station);
        column->addWidget(button);
    }
    column->addStretch();
    connect(rail_, &QButtonGroup::idClicked, this,
            [this](int id) { goTo(static_cast<Station>(id)); });
    return rail;
}

QWidget* MainWindow::makeHeader() {
    auto* header = new QWidget;
    header->setObjectName("header");
    auto* row = new QHBoxLayout(header);
    row->setContentsMargins(12, 4, 8, 4);
    title_ = new QLabel;
    title_->setObjectName("openClipTitle");
    row->addWidget(title_, 1);
    const auto button = [&](const char* name, const char* iconName, const QString& what) {
        auto* b = new QToolButton;
        b->setObjectName(name);
        b->setIcon(icon(iconName));
        b->setAutoRaise(true);
        b->setAccessibleName(what);
        b->setFocusPolicy(Qt::NoFocus);
        b->setEnabled(false);
        row->addWidget(b);
        return b;
    };
    makeProgress(*row);
    undo_ = button("undo", "undo", tr("Undo"));
    redo_ = button("redo", "redo", tr("Redo"));
    QUndoStack& stack = session_.undoStack();
    const auto undo = [&stack] { stack.undo(); };
    const auto redo = [&stack] { stack.redo(); };
    connect(undo_, &QToolButton::clicked, this, undo);
    connect(redo_, &QToolButton::clicked, this, redo);
    connect(new QShortcut(QKeySequence::Undo, this), &QShortcut::activated, this, undo);
    connect(new QShortcut(QKeySequence::Redo, this), &QShortcut::activated, this, redo);
    const auto names = [this, &stack] {
        undo_->setEnabled(stack.canUndo());
        redo_->setEnabled(stack.canRedo());
        undo_->setToolTip(stack.canUndo() ? tr("Undo: %1").arg(stack.undoText())
                                          : tr("Nothing to undo"));
        redo_->setToolTip(stack.canRedo() ? tr("Redo: %1").arg(stack.redoText())
                                          : tr("Nothing to redo"));
    };
    connect(&stack, &QUndoStack::indexChanged, this, names);
    names();
    return header;
}

void MainWindow::makeProgress(QHBoxLayout& row) {
    progressText_ = new QLabel;
    progressText_->setObjectName("importText");
    progress_ = new QProgressBar;
    progress_->setObjectName("importProgress");
    progress_->setRange(0, 1000);
    constexpr int barWidth = 180;
    progress_->setFixedWidth(barWidth);
    cancel_ = new QPushButton(tr("Cancel"));
    cancel_->setObjectName("cancelImport");
    connect(cancel_, &QPushButton::clicked, this, [this] {
        waiting_.clear();
        if (import_) {
            import_->cancelled = true;
        }
    });
    for (QWidget* w : std::initializer_list<QWidget*>{progressText_, progress_, cancel_}) {
        row.addWidget(w);
        w->hide();
    }
}

void MainWindow::goTo(Station station) {
    stack_->setCurrentIndex(station);
    rail_->button(station)->setChecked(true);
    stack_->currentWidget()->setFocus();
    session_.library().setSetting("station", stations.at(station).id);
    session_.rememberPlace();
}

MainWindow::Station MainWindow::station() const {
    return static_cast<Station>(stack_->currentIndex());
}

void MainWindow::continueWhereLeft() {
    const std::string left = session_.library().setting("station");
    const std::string clip = session_.library().setting("open_clip");
    if (!clip.empty()) {
        session_.openClip(QString::fromStdString(clip).toLongLong());
    }
    for (const StationEntry& entry : stations) {
        if (left == entry.id) {
            goTo(entry.station);
        }
    }
}

void MainWindow::closeEvent(QCloseEvent* event) {
    session_.rememberPlace();
    QMainWindow::closeEvent(event);
}

void MainWindow::showTitle() {
    setWindowTitle(tr("Jolly Kestrel"));
    if (!session_.hasClip()) {
        title_->setText(tr("No clip open"));
        return;
    }
    QString title = tr("%1 · %2 · %3")
                        .arg(QString::fromStdString(session_.player().name),
                             QString::fromStdString(session_.clip().title),
                             QString::fromStdString(session_.pack().name));
    if (session_.reps().size() > 1) {
        title += " · " + QString::fromStdString(session_.rep().title);
    }
    title_->setText(title);
}

void MainWindow::openFromSquad(qint64 clipId) {
    toBenchWhenOpen_ = true;
    session_.openClip(clipId);
}

void MainWindow::askForFilms() {
    if (squad_->currentPlayer() == 0) {
        showProblem(tr("There is no player yet to bring a film in for."),
                    tr("Nothing was changed."), tr("Add a player on the Squad station first."));
        return;
    }
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Bring in films for this player"),
        QStandardPaths::writableLocation(QStandardPaths::MoviesLocation),
        tr("Films (*.mp4 *.mov *.mkv *.webm *.avi *.m4v *.mts *.3gp);;All files (*)"));
    bringIn(files, squad_->currentPlayer());
}

void MainWindow::bringIn(const QStringList& files, model::Id playerId) {
    for (const QString& file : files) {
        waiting_.emplace_back(file, playerId);
    }
    if (!import_) {
        startNextImport();
    }
}

void MainWindow::startNextImport() {
    import_.reset();
    const bool more = !waiting_.empty();
    for (QWidget* w : std::initializer_list<QWidget*>{progressText_, progress_, cancel_}) {
        w->setVisible(more);
    }
    if (!more) {
        return;
    }
    const auto [file, playerId] = waiting_.front();
    waiting_.erase(waiting_.begin());
    const QString title = QFileInfo(file).completeBaseName();
    progressText_->setText(tr("Bringing in %1").arg(title));
    progress_->setValue(0);
    auto import = std::make_shared<Import>();
    import_ = import;
    QPointer<MainWindow> window(this);
    const auto tell = [window, import](std::uintmax_t done, std::uintmax_t all) {
        constexpr std::uintmax_t steps = 1000;
        const int value = static_cast<int>(all == 0 ? steps : done * steps / all);
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [window, value] {
                if (window) {
                    window->progress_->setValue(value);
                }
            },
            Qt::QueuedConnection);
        return !import->cancelled.load();
    };
    inBackground(
        this,
        [path = std::filesystem::path(file.toStdString()), folder = session_.library().clipFolder(),
         tell] { return records::storeFilm(path, folder, tell); },
        [this, title, playerId = playerId](const std::optional<records::StoredFilm>& stored) {
            if (stored) {
                toBenchWhenOpen_ = true;
                session_.addFilm(playerId, *stored, title.toStdString(),
                                 session_.usualTechnique(playerId));
            } else {
                title_->setText(
                    tr("Bringing in %1 was cancelled; the library is as it was.").arg(title));
            }
            startNextImport();
        },
        [this, title](const std::exception_ptr& error) {
            try {
                std::rethrow_exception(error);
            } catch (const model::InputError& e) {
                showProblem(QString::fromStdString(e.happened()), QString::fromStdString(e.safe()),
                            QString::fromStdString(e.todo()));
            } catch (const std::exception& e) {
                showProblem(tr("%1 could not be brought in (%2).").arg(title, e.what()),
                            tr("The library is as it was."), tr("Try again."));
            }
            startNextImport();
        });
}

void MainWindow::showProblem(const QString& happened, const QString& safe, const QString& todo) {
    auto* box =
        new QMessageBox(QMessageBox::Warning, tr("Jolly Kestrel"), happened, QMessageBox::Ok, this);
    box->setObjectName("problem");
    box->setInformativeText(safe + "\n" + todo);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void MainWindow::askForLostFilm(qint64 clipId, bool changed) {
    const auto clip = session_.library().clip(clipId);
    if (!clip) {
        return;
    }
    const QString title = QString::fromStdString(clip->title);
    auto* box = new QMessageBox(
        QMessageBox::Warning, tr("Jolly Kestrel"),
        changed ? tr("The film of “%1” was changed after it was brought in; its marks belong to "
                     "the film as it was.")
                      .arg(title)
                : tr("The film of “%1” is not in the library any more.").arg(title),
        QMessageBox::NoButton, this);
    box->setObjectName("filmLost");
    box->setInformativeText(
        tr("All marks and notes are safe. If you still have the film, choose it, or search the "
           "folder or disk it may lie on; it is known by its content, whatever its name is now."));
    auto* choose = box->addButton(tr("Choose the film…"), QMessageBox::ActionRole);
    choose->setObjectName("chooseLostFilm");
    auto* search = box->addButton(tr("Search a folder…"), QMessageBox::ActionRole);
    search->setObjectName("searchLostFilm");
    box->addButton(tr("Leave it"), QMessageBox::RejectRole)->setObjectName("leaveLostFilm");
    connect(choose, &QPushButton::clicked, this, [this, clipId] {
        const QString file = QFileDialog::getOpenFileName(this, tr("The film of this clip"));
        if (!file.isEmpty()) {
            session_.restoreFilm(clipId, file.toStdString());
        }
    });
    connect(search, &QPushButton::clicked, this, [this, clipId] {
        const QString folder =
            QFileDialog::getExistingDirectory(this, tr("Where the film may lie"));
        if (!folder.isEmpty()) {
            session_.restoreFilm(clipId, folder.toStdString());
        }
    });
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) {
        event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls()) {
        if (url.isLocalFile()) {
            files << url.toLocalFile();
        }
    }
    if (squad_->currentPlayer() == 0) {
        askForFilms(); // says that a player is needed first
        return;
    }
    bringIn(files, squad_->currentPlayer());
}

} // namespace kestrel::app
