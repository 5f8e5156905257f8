#include "app/bench/bench_station.h"

#include "app/bench/body_view.h"
#include "app/bench/curves_band.h"
#include "app/bench/placing_panel.h"
#include "app/bench/position_strip.h"
#include "app/bench/readings_panel.h"
#include "app/shared/film_view.h"
#include "app/shared/loupe.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

constexpr double zoomStep = 1.25;

} // namespace

BenchStation::BenchStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), desk_(desk) {
    setObjectName("benchStation");
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 6, 8, 6);
    column->setSpacing(4);
    strip_ = new PositionStrip(desk_.open, thumbnails);
    column->addWidget(strip_);

    auto* middle = new QHBoxLayout;
    middle->setSpacing(8);
    auto* view = new FilmView(desk_.open, desk_.clipEdits, thumbnails);
    stage_ = &view->stage();
    stage_->setPlacing(true);
    transport_ = &view->transport();
    auto* film = new QVBoxLayout;
    film->setSpacing(2);
    film->addWidget(view, 1);
    curves_ = new CurvesBand(desk_.open, view->map());
    curves_->hide();
    film->addWidget(curves_);
    middle->addLayout(film, 1);
    body_ = new BodyPanel(desk_.open, desk_.bodyFitting);
    body_->hide();
    view->putBesideFrame(body_);

    auto* side = new QWidget;
    constexpr int sideWidth = 430;
    side->setFixedWidth(sideWidth);
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    placing_ =
        new PlacingPanel(desk_.problems, desk_.open, desk_.repEdits, desk_.search, desk_.preparer);
    right->addWidget(placing_);
    readings_ = new ReadingsPanel(desk_.shelf, desk_.open, desk_.repEdits, desk_.clipEdits);
    right->addWidget(readings_, 1);
    middle->addWidget(side);
    column->addLayout(middle, 1);

    connect(strip_, &PositionStrip::chosen, this, [this](const QString& id) {
        placing_->setPosition(id.toStdString());
        readings_->setPosition(id.toStdString());
    });
    connect(placing_, &PlacingPanel::positionWanted, this,
            [this](const QString& id) { strip_->choose(id.toStdString()); });
    connect(stage_, &Stage::pointed, this,
            [this](QPointF picture) { placing_->loupe().lookAt(picture); });
    connect(stage_, &Stage::clicked, this, [this](QPointF picture) {
        setFocus();
        placing_->placeNext(picture);
    });
    connect(stage_, &Stage::dragged, this, [this](model::Landmark landmark, QPointF picture) {
        placing_->moveTo(landmark, picture);
    });
    connect(stage_, &Stage::picked, this,
            [this](model::Landmark landmark) { placing_->select(landmark); });
    connect(placing_, &PlacingPanel::selectionChanged, this,
            [this] { stage_->setSelected(placing_->selected()); });
    connect(readings_, &ReadingsPanel::curvesWanted, curves_, &QWidget::setVisible);
    connect(readings_, &ReadingsPanel::bodyWanted, body_, &QWidget::setVisible);
    connect(readings_, &ReadingsPanel::chosen, this, [this](const QString& measure) {
        curves_->setMeasure(measure.toStdString());
        body_->setMeasure(measure.toStdString());
    });
    connect(readings_, &ReadingsPanel::shown, this,
            [this](const std::vector<model::Reading>& readings) { stage_->setReadings(readings); });
}

void BenchStation::choosePosition(const std::string& positionId) {
    strip_->choose(positionId);
}

void BenchStation::moveToRep(int by) {
    const auto& reps = desk_.open.reps();
    const auto open = std::find_if(reps.begin(), reps.end(), [&](const model::Rep& rep) {
        return rep.id == desk_.open.rep().id;
    });
    const auto place = open - reps.begin() + by;
    if (place >= 0 && place < static_cast<std::ptrdiff_t>(reps.size())) {
        desk_.open.openRep(reps[static_cast<std::size_t>(place)].id);
    }
}

namespace {

/// Which way an arrow key points, in picture pixels.
QPointF wayOf(int key) {
    switch (key) {
    case Qt::Key_Left:
        return {-1, 0};
    case Qt::Key_Right:
        return {1, 0};
    case Qt::Key_Up:
        return {0, -1};
    case Qt::Key_Down:
        return {0, 1};
    default:
        return {};
    }
}

} // namespace

void BenchStation::nudgeOrStep(int key, bool shift) {
    const QPointF way = wayOf(key);
    if (placing_->selected()) {
        constexpr double fine = 0.25; // picture pixels
        constexpr double coarse = 2.0;
        placing_->nudgeSelected(way * (shift ? coarse : fine));
    } else if (way.x() != 0) {
        transport_->step(static_cast<int>(way.x()) * (shift ? 10 : 1));
    }
}

void BenchStation::keyPressEvent(QKeyEvent* event) {
    const auto action = desk_.open.hasClip() ? words::actionFor(*event, words::Where::onBench)
                                             : std::optional<words::Action>();
    if (action == words::Action::nudge) {
        nudgeOrStep(event->key(), (event->modifiers() & Qt::ShiftModifier) != 0);
    } else if (action == words::Action::positionNumbered) {
        const auto& positions = desk_.open.pack().positions;
        const auto place = static_cast<std::size_t>(event->key() - Qt::Key_1);
        if (place < positions.size()) {
            strip_->choose(positions[place].id);
        }
    } else if (!action || !(moves(*action) || places(*action) || looks(*action))) {
        QWidget::keyPressEvent(event);
    }
}

bool BenchStation::moves(words::Action action) {
    switch (action) {
    case words::Action::back:
        transport_->step(-1);
        return true;
    case words::Action::on:
        transport_->step(1);
        return true;
    case words::Action::backTen:
        transport_->step(-10);
        return true;
    case words::Action::onTen:
        transport_->step(10);
        return true;
    case words::Action::play:
        transport_->togglePlay();
        return true;
    case words::Action::repBefore:
        moveToRep(-1);
        return true;
    case words::Action::repAfter:
        moveToRep(1);
        return true;
    case words::Action::positionBefore:
        strip_->move(-1);
        return true;
    case words::Action::positionAfter:
        strip_->move(1);
        return true;
    default:
        return false;
    }
}

bool BenchStation::places(words::Action action) {
    switch (action) {
    case words::Action::setPosition:
        placing_->setPositionHere();
        return true;
    case words::Action::propose:
        placing_->proposeOrCancel();
        return true;
    case words::Action::proposeWhom:
        placing_->askForPlayer();
        return true;
    case words::Action::trackOn:
        placing_->askForPlayerFromHere();
        return true;
    case words::Action::follow:
        placing_->followPlaced();
        return true;
    case words::Action::copy:
        placing_->copyFromBefore();
        return true;
    case words::Action::swapSides:
        placing_->swapSides();
        return true;
    case words::Action::checkNext:
        placing_->lookAtMostDoubtful();
        return true;
    case words::Action::confirm:
        placing_->confirmSelected();
        return true;
    case words::Action::confirmAll:
        placing_->confirmAll();
        return true;
    case words::Action::hide:
        placing_->hideNextOrSelected();
        return true;
    case words::Action::remove:
        placing_->removeSelected();
        return true;
    case words::Action::letGo:
        placing_->select(std::nullopt);
        return true;
    default:
        return false;
    }
}

bool BenchStation::looks(words::Action action) {
    switch (action) {
    case words::Action::answerYes:
        readings_->answer(model::Seen::yes);
        return true;
    case words::Action::answerNo:
        readings_->answer(model::Seen::no);
        return true;
    case words::Action::answerNotVisible:
        readings_->answer(model::Seen::notVisible);
        return true;
    case words::Action::curves:
        readings_->toggleCurves();
        return true;
    case words::Action::body:
        readings_->toggleBody();
        return true;
    case words::Action::bodyFromSide:
        readings_->setBody(true);
        body_->lookFromSide();
        return true;
    case words::Action::bodyFromFront:
        readings_->setBody(true);
        body_->lookFromFront();
        return true;
    case words::Action::bodyFromAbove:
        readings_->setBody(true);
        body_->lookFromAbove();
        return true;
    case words::Action::swapDepth:
        readings_->swapDepth();
        return true;
    case words::Action::wholePicture:
        stage_->fit();
        return true;
    case words::Action::zoomIn:
        stage_->zoomBy(zoomStep, stage_->rect().center());
        return true;
    case words::Action::zoomOut:
        stage_->zoomBy(1.0 / zoomStep, stage_->rect().center());
        return true;
    default:
        return false;
    }
}

} // namespace kestrel::app
