#include "app/main_window.h"

#include "app/bench/bench_station.h"
#include "app/compare/compare_station.h"
#include "app/film/film_station.h"
#include "app/packs/packs_station.h"
#include "app/plan/plan_station.h"
#include "app/shared/elided_label.h"
#include "app/shared/icon.h"
#include "app/shared/keys_dialog.h"
#include "app/squad/squad_station.h"
#include "model/input_error.h"
#include "records/clip_store.h"
#include "words/keys.h"

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
    words::Action action;
};

constexpr int railButton = 70; ///< side, pixels

constexpr std::array stations{
    StationEntry{MainWindow::squad, "squad", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Squad"),
                 "squad", words::Action::squad},
    StationEntry{MainWindow::film, "film", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Film"),
                 "film", words::Action::film},
    StationEntry{MainWindow::bench, "bench", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Bench"),
                 "bench", words::Action::bench},
    StationEntry{MainWindow::compare, "compare",
                 QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Compare"), "compare",
                 words::Action::compare},
    StationEntry{MainWindow::plan, "plan", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Plan"),
                 "plan", words::Action::plan},
    StationEntry{MainWindow::packs, "packs", QT_TRANSLATE_NOOP("kestrel::app::MainWindow", "Packs"),
                 "packs", words::Action::packs},
};

} // namespace

MainWindow::MainWindow(desk::Desk& desk, QWidget* parent) : QMainWindow(parent), desk_(desk) {
    setObjectName("mainWindow");
    setWindowIcon(icon("kestrel"));
    setAcceptDrops(true);
    connect(&desk_.open, &desk::OpenClip::opened, this,
            [this] { thumbnails_.setFilm(desk_.open.index()); });

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
    squad_ = new SquadStation(desk_);
    film_ = new FilmStation(desk_, thumbnails_);
    bench_ = new BenchStation(desk_, thumbnails_);
    compare_ = new CompareStation(desk_, thumbnails_);
    plan_ = new PlanStation(desk_);
    packs_ = new PacksStation(desk_);
    for (QWidget* station :
         std::initializer_list<QWidget*>{squad_, film_, bench_, compare_, plan_, packs_}) {
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
    connect(&desk_.problems, &desk::Problems::told, this, &MainWindow::showProblem);
    connect(&desk_.open, &desk::OpenClip::lost, this, &MainWindow::askForLostFilm);
    connect(&desk_.open, &desk::OpenClip::repOpened, this, [this] { showTitle(); });
    connect(&desk_.open, &desk::OpenClip::opened, this, [this] {
        showTitle();
        if (const auto wanted = std::exchange(wantedOnBench_, std::nullopt)) {
            toBenchWhenOpen_ = false;
            // Once it has gone to where the coach was last.
            QMetaObject::invokeMethod(
                this, [this, wanted] { showOnBench(wanted->first, wanted->second); },
                Qt::QueuedConnection);
            return;
        }
        if (toBenchWhenOpen_) {
            toBenchWhenOpen_ = false;
            // What the film cannot tell of the camera must be said before anything can be read.
            const model::Clip& clip = desk_.open.clip();
            const bool viewKnown = clip.view || clip.foundView || desk_.preparer.isByItself();
            const bool asked = desk_.open.captureRateMissing() || !viewKnown;
            goTo(asked ? film : bench);
        }
    });
    connect(&desk_.open, &desk::OpenClip::closed, this, [this] { showTitle(); });
    connect(&desk_.open, &desk::OpenClip::marksChanged, this, [this] { showTitle(); });
    for (const StationEntry& entry : stations) {
        auto* shortcut = new QShortcut(words::keysOf(entry.action).front(), this);
        connect(shortcut, &QShortcut::activated, this, [this, s = entry.station] { goTo(s); });
    }
    showTitle();
    rail_->button(squad)->setChecked(true);
}

void MainWindow::showOnBench(model::RepId repId, const QString& positionId) {
    const auto rep = desk_.library.rep(repId);
    if (!rep) {
        return;
    }
    if (!desk_.open.hasClip() || rep->clipId != desk_.open.clip().id) {
        wantedOnBench_ = {repId, positionId};
        desk_.open.open(rep->clipId);
        return;
    }
    desk_.open.openRep(repId);
    goTo(bench);
    bench_->choosePosition(positionId.toStdString());
}

MainWindow::~MainWindow() {
    // What is being typed is finished while everything is still there, and nothing of the desk
    // reaches a window that is half gone.
    if (QWidget* typedIn = focusWidget()) {
        typedIn->clearFocus();
    }
    for (const QObject* part : std::initializer_list<const QObject*>{
             &desk_.open, &desk_.problems, &desk_.edits, &desk_.edits.stack()}) {
        part->disconnect(this);
    }
    import_.cancel();
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
        button->setToolTip(tr("%1 (%2)").arg(tr(entry.name), words::keyName(entry.action)));
        button->setIcon(icon(entry.iconName));
        button->setIconSize({30, 30});
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setCheckable(true);
        button->setFocusPolicy(Qt::TabFocus);
        button->setFixedSize(railButton, railButton);
        rail_->addButton(button, entry.station);
        column->addWidget(button);
    }
    column->addStretch();
    auto* keys = new QToolButton;
    keys->setObjectName("keys");
    keys->setText(tr("Keys"));
    keys->setToolTip(tr("All keys (%1)").arg(words::keyName(words::Action::keys)));
    keys->setFocusPolicy(Qt::TabFocus);
    keys->setFixedWidth(railButton);
    column->addWidget(keys);
    const auto showKeys = [this] {
        auto* dialog = new KeysDialog(this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    };
    connect(keys, &QToolButton::clicked, this, showKeys);
    connect(new QShortcut(words::keysOf(words::Action::keys).front(), this), &QShortcut::activated,
            this, showKeys);
    connect(rail_, &QButtonGroup::idClicked, this,
            [this](int id) { goTo(static_cast<Station>(id)); });
    return rail;
}

QWidget* MainWindow::makeHeader() {
    auto* header = new QWidget;
    header->setObjectName("header");
    auto* row = new QHBoxLayout(header);
    row->setContentsMargins(12, 4, 8, 4);
    title_ = new ElidedLabel;
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
    const auto undo = [this] { desk_.edits.undo(); };
    const auto redo = [this] { desk_.edits.redo(); };
    connect(undo_, &QToolButton::clicked, this, undo);
    connect(redo_, &QToolButton::clicked, this, redo);
    for (const QKeySequence& key : words::keysOf(words::Action::undo)) {
        connect(new QShortcut(key, this), &QShortcut::activated, this, undo);
    }
    for (const QKeySequence& key : words::keysOf(words::Action::redo)) {
        connect(new QShortcut(key, this), &QShortcut::activated, this, redo);
    }
    const QUndoStack& stack = desk_.edits.stack();
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
        import_.cancel();
        title_->setText(
            tr("%1 was cancelled; the library is as it was.").arg(progressText_->text()));
        startNextImport();
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
    desk_.settings.set("station", stations.at(station).id);
    desk_.open.rememberPlace();
}

MainWindow::Station MainWindow::station() const {
    return static_cast<Station>(stack_->currentIndex());
}

void MainWindow::continueWhereLeft() {
    const std::string left = desk_.settings.get("station");
    const std::string clip = desk_.settings.get("open_clip");
    if (!clip.empty()) {
        desk_.open.open(model::ClipId(QString::fromStdString(clip).toLongLong()));
    }
    for (const StationEntry& entry : stations) {
        if (left == entry.id) {
            goTo(entry.station);
        }
    }
}

void MainWindow::closeEvent(QCloseEvent* event) {
    desk_.open.rememberPlace();
    QMainWindow::closeEvent(event);
}

void MainWindow::showTitle() {
    setWindowTitle(tr("Jolly Kestrel"));
    if (!desk_.open.hasClip()) {
        title_->setText(tr("No clip open"));
        return;
    }
    QString title = tr("%1 · %2 · %3")
                        .arg(QString::fromStdString(desk_.open.player().name),
                             QString::fromStdString(desk_.open.clip().title),
                             QString::fromStdString(desk_.open.pack().name));
    if (desk_.open.reps().size() > 1) {
        title += " · " + QString::fromStdString(desk_.open.rep().title);
    }
    title_->setText(title);
}

void MainWindow::openFromSquad(model::ClipId clipId) {
    toBenchWhenOpen_ = true;
    desk_.open.open(clipId);
}

void MainWindow::askForFilms() {
    if (squad_->currentPlayer() == model::PlayerId()) {
        showProblem({tr("There is no player yet to bring a film in for."),
                     tr("Nothing was changed."), tr("Add a player on the Squad station first.")});
        return;
    }
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Bring in films for this player"),
        QStandardPaths::writableLocation(QStandardPaths::MoviesLocation),
        tr("Films (*.mp4 *.mov *.mkv *.webm *.avi *.m4v *.mts *.3gp);;All files (*)"));
    bringIn(files, squad_->currentPlayer());
}

void MainWindow::bringIn(const QStringList& files, model::PlayerId playerId) {
    for (const QString& file : files) {
        waiting_.emplace_back(file, playerId);
    }
    if (!importing_) {
        startNextImport();
    }
}

void MainWindow::startNextImport() {
    importing_ = !waiting_.empty();
    for (QWidget* w : std::initializer_list<QWidget*>{progressText_, progress_, cancel_}) {
        w->setVisible(importing_);
    }
    if (!importing_) {
        return;
    }
    const auto [file, playerId] = waiting_.front();
    waiting_.erase(waiting_.begin());
    const QString title = QFileInfo(file).completeBaseName();
    progressText_->setText(tr("Bringing in %1").arg(title));
    progress_->setValue(0);
    import_ = desk::runJob(
        this,
        [path = std::filesystem::path(file.toStdString()),
         folder = desk_.library.clipFolder()](const desk::TellShare& tell) {
            return records::storeFilm(path, folder, [&](std::uintmax_t done, std::uintmax_t all) {
                return tell(all == 0 ? 1.0 : static_cast<double>(done) / static_cast<double>(all));
            });
        },
        [this, title, playerId = playerId](const std::optional<records::StoredFilm>& stored) {
            desk_.problems.trying([&] {
                toBenchWhenOpen_ = true;
                desk_.squadEdits.addFilm(playerId, stored.value(), title.toStdString(),
                                         desk_.squadEdits.usualTechnique(playerId));
            });
            startNextImport();
        },
        [this](const std::exception_ptr& error) {
            desk_.problems.tell(error);
            startNextImport();
        },
        [this](double share) {
            progress_->setValue(static_cast<int>(share * progress_->maximum()));
        });
}

void MainWindow::showProblem(const desk::Problem& problem) {
    auto* box = new QMessageBox(QMessageBox::Warning, tr("Jolly Kestrel"), problem.happened,
                                QMessageBox::Ok, this);
    box->setObjectName("problem");
    box->setInformativeText(problem.safe + "\n" + problem.todo);
    if (desk_.edits.canTryAgain()) {
        auto* again = box->addButton(tr("Try again"), QMessageBox::AcceptRole);
        again->setObjectName("tryAgain");
        connect(again, &QPushButton::clicked, &desk_.edits, &desk::EditStack::tryAgain,
                Qt::QueuedConnection);
    }
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void MainWindow::askForLostFilm(model::ClipId clipId, bool changed) {
    const auto clip = desk_.library.clip(clipId);
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
            desk_.open.restoreFilm(clipId, file.toStdString());
        }
    });
    connect(search, &QPushButton::clicked, this, [this, clipId] {
        const QString folder =
            QFileDialog::getExistingDirectory(this, tr("Where the film may lie"));
        if (!folder.isEmpty()) {
            desk_.open.restoreFilm(clipId, folder.toStdString());
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
    if (squad_->currentPlayer() == model::PlayerId()) {
        askForFilms(); // says that a player is needed first
        return;
    }
    bringIn(files, squad_->currentPlayer());
}

} // namespace kestrel::app
