#include "app/bench/bench_station.h"

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

    auto* side = new QWidget;
    constexpr int sideWidth = 430;
    side->setFixedWidth(sideWidth);
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    placing_ = new PlacingPanel(desk_.problems, desk_.open, desk_.repEdits, desk_.search);
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
    connect(readings_, &ReadingsPanel::chosen, curves_,
            [this](const QString& measure) { curves_->setMeasure(measure.toStdString()); });
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

bool BenchStation::nudgeOrStep(int key, bool shift) {
    QPointF way;
    switch (key) {
    case Qt::Key_Left:
        way = {-1, 0};
        break;
    case Qt::Key_Right:
        way = {1, 0};
        break;
    case Qt::Key_Up:
        way = {0, -1};
        break;
    case Qt::Key_Down:
        way = {0, 1};
        break;
    default:
        return false;
    }
    if (placing_->selected()) {
        constexpr double fine = 0.25; // picture pixels
        constexpr double coarse = 2.0;
        placing_->nudgeSelected(way * (shift ? coarse : fine));
    } else if (way.x() != 0) {
        transport_->step(static_cast<int>(way.x()) * (shift ? 10 : 1));
    }
    return true;
}

void BenchStation::keyPressEvent(QKeyEvent* event) {
    if (!desk_.open.hasClip()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    const int key = event->key();
    if (nudgeOrStep(key, shift)) {
        return;
    }
    const auto& positions = desk_.open.pack().positions;
    if (key >= Qt::Key_1 && key <= Qt::Key_9) {
        const auto place = static_cast<std::size_t>(key - Qt::Key_1);
        if (place < positions.size()) {
            strip_->choose(positions[place].id);
        }
        return;
    }
    switch (key) {
    case Qt::Key_Comma:
        transport_->step(-1);
        return;
    case Qt::Key_Less:
    case Qt::Key_Semicolon:
        transport_->step(-10);
        return;
    case Qt::Key_Period:
        transport_->step(1);
        return;
    case Qt::Key_Greater:
    case Qt::Key_Colon:
        transport_->step(10);
        return;
    case Qt::Key_Space:
        transport_->togglePlay();
        return;
    case Qt::Key_PageUp:
        moveToRep(-1);
        return;
    case Qt::Key_PageDown:
        moveToRep(1);
        return;
    case Qt::Key_P:
        placing_->setPositionHere();
        return;
    case Qt::Key_BracketLeft:
        strip_->move(-1);
        return;
    case Qt::Key_BracketRight:
        strip_->move(1);
        return;
    case Qt::Key_L:
        shift ? placing_->askForPlayer() : placing_->proposeOrCancel();
        return;
    case Qt::Key_T:
        placing_->askForPlayerFromHere();
        return;
    case Qt::Key_F:
        placing_->followPlaced();
        return;
    case Qt::Key_Y:
        readings_->answer((event->modifiers() & Qt::AltModifier) != 0 ? model::Seen::notVisible
                          : shift                                     ? model::Seen::no
                                                                      : model::Seen::yes);
        return;
    case Qt::Key_V:
        readings_->toggleCurves();
        return;
    case Qt::Key_Z:
        readings_->swapDepth();
        return;
    case Qt::Key_C:
        placing_->copyFromBefore();
        return;
    case Qt::Key_X:
        placing_->swapSides();
        return;
    case Qt::Key_N:
        placing_->lookAtMostDoubtful();
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        shift ? placing_->confirmAll() : placing_->confirmSelected();
        return;
    case Qt::Key_H:
        placing_->hideNextOrSelected();
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        placing_->removeSelected();
        return;
    case Qt::Key_Escape:
        placing_->select(std::nullopt);
        return;
    case Qt::Key_0:
        stage_->fit();
        return;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        stage_->zoomBy(1.25, stage_->rect().center());
        return;
    case Qt::Key_Minus:
        stage_->zoomBy(0.8, stage_->rect().center());
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace kestrel::app
