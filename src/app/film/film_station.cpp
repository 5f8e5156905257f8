#include "app/film/film_station.h"

#include "app/film/camera_panel.h"
#include "app/film/consistency_panel.h"
#include "app/film/film_check_panel.h"
#include "app/film/ground_panel.h"
#include "app/film/reps_panel.h"
#include "app/shared/film_view.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"
#include "words/keys.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTabWidget>
#include <QVBoxLayout>

#include <optional>

namespace kestrel::app {

FilmStation::FilmStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), desk_(desk) {
    setObjectName("filmStation");
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 6, 8, 6);
    row->setSpacing(10);
    auto* view = new FilmView(desk_.open, desk_.clipEdits, thumbnails);
    stage_ = &view->stage();
    transport_ = &view->transport();
    row->addWidget(view, 1);
    row->addWidget(makeSide());
    connect(&desk_.open, &desk::OpenClip::opened, this, [this] { refresh(); });
    connect(&desk_.open, &desk::OpenClip::closed, this, [this] { refresh(); });
    connect(&desk_.open, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    refresh();
}

QWidget* FilmStation::makeSide() {
    auto* side = new QWidget;
    constexpr int sideWidth = 380;
    side->setFixedWidth(sideWidth);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    title_ = new QLabel;
    title_->setObjectName("clipTitle");
    title_->setProperty("role", "heading");
    title_->setWordWrap(true);
    column->addWidget(title_);
    what_ = new QLabel;
    what_->setObjectName("whatToDo");
    what_->setWordWrap(true);
    column->addWidget(what_);

    pages_ = new QTabWidget;
    pages_->setObjectName("filmPages");
    pages_->setDocumentMode(true);
    auto* cameraPage = new QScrollArea; // small screens scroll
    cameraPage->setWidget(new CameraPanel(desk_.library, desk_.problems, desk_.shelf, desk_.open,
                                          desk_.clipEdits, desk_.secondView, desk_.clock));
    cameraPage->setWidgetResizable(true);
    cameraPage->setFrameShape(QFrame::NoFrame);
    cameraPage->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    pages_->insertTab(camera, cameraPage, tr("Camera"));
    pages_->insertTab(reps, new RepsPanel(desk_.open, desk_.clipEdits), tr("Reps"));
    groundPanel_ = new GroundPanel(desk_.open, desk_.clipEdits, *stage_);
    auto* groundPage = new QScrollArea;
    groundPage->setWidget(groundPanel_);
    groundPage->setWidgetResizable(true);
    groundPage->setFrameShape(QFrame::NoFrame);
    groundPage->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    pages_->insertTab(ground, groundPage, tr("Ground"));
    connect(pages_, &QTabWidget::currentChanged, groundPanel_,
            [this](int page) { groundPanel_->setMarking(page == ground); });
    pages_->insertTab(shows, new FilmCheckPanel(desk_.problems, desk_.open), tr("What it shows"));
    pages_->insertTab(
        repeats,
        new ConsistencyPanel(desk_.library, desk_.problems, desk_.judging, desk_.films, desk_.open),
        tr("Repeats"));
    column->addWidget(pages_, 1);

    auto* buttons = new QHBoxLayout;
    auto* bringIn = new QPushButton(tr("Bring in a film…"));
    bringIn->setObjectName("bringIn");
    bringIn->setToolTip(
        tr("Copies a film into the library; you can also drop files on the window"));
    connect(bringIn, &QPushButton::clicked, this, &FilmStation::bringIn);
    buttons->addWidget(bringIn);
    auto* bench = new QPushButton(tr("To the Bench"));
    bench->setObjectName("toBench");
    bench->setProperty("role", "primary");
    connect(bench, &QPushButton::clicked, this, &FilmStation::toBench);
    buttons->addWidget(bench);
    column->addLayout(buttons);
    column->addStretch(); // holds all up while there are no pages
    return side;
}

void FilmStation::choosePage(Page page) {
    pages_->setCurrentIndex(page);
}

void FilmStation::refresh() {
    const bool open = desk_.open.hasClip();
    pages_->setVisible(open);
    what_->setVisible(!open);
    if (!open) {
        title_->setText(tr("No film open"));
        what_->setText(tr("Choose a player on the Squad station, then bring in a film here: press "
                          "the button below or drop a file on the window."));
        return;
    }
    title_->setText(
        QString::fromStdString(desk_.open.player().name + ", " + desk_.open.clip().title));
}

void FilmStation::toKeyPosition(int way) {
    if (!desk_.open.hasClip()) {
        return;
    }
    std::optional<int> nearest;
    for (const auto& [id, frame] : model::allPositions(desk_.open.rep())) {
        const bool ahead = technique::findPosition(desk_.open.pack(), id) != nullptr &&
                           (frame - desk_.open.frame()) * way > 0;
        if (ahead && (!nearest || (*nearest - frame) * way > 0)) {
            nearest = frame;
        }
    }
    if (nearest) {
        transport_->stop();
        desk_.open.goTo(*nearest);
    }
}

void FilmStation::keyPressEvent(QKeyEvent* event) {
    switch (words::actionFor(*event, words::Where::onFilm).value_or(words::Action::keys)) {
    case words::Action::back:
        transport_->step(-1);
        return;
    case words::Action::on:
        transport_->step(1);
        return;
    case words::Action::backTen:
        transport_->step(-10);
        return;
    case words::Action::onTen:
        transport_->step(10);
        return;
    case words::Action::play:
        transport_->togglePlay();
        return;
    case words::Action::positionBefore:
        toKeyPosition(-1);
        return;
    case words::Action::positionAfter:
        toKeyPosition(1);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace kestrel::app
