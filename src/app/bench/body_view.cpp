#include "app/bench/body_view.h"

#include "report/palette.h"
#include "technique/judge/target_line.h"
#include "technique/pack/roles.h"
#include "words/measured.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr double quarter = 90.0;
/// A little from above, so that the ground is seen.
constexpr double usualAbove = 12.0;

/// The points of a measure that are of the body, as lines to draw: through three points, else two
/// by two.
std::vector<std::vector<report::BodyPoint>>
linesOf(const technique::Pack& pack, const technique::Measure& measure, model::Hand hand) {
    std::vector<report::BodyPoint> points;
    for (const technique::PointExpression& expression : measure.points) {
        report::BodyPoint point;
        for (const auto& [role, weight] : expression.terms) {
            const auto landmark = technique::landmarkForRole(pack, role, hand);
            if (!landmark || !model::isOfBody(*landmark)) {
                return {};
            }
            point.emplace_back(*landmark, weight);
        }
        points.push_back(std::move(point));
    }
    constexpr std::size_t twoLines = 4;
    std::vector<std::vector<report::BodyPoint>> lines;
    if (points.size() == twoLines) {
        lines = {{points[0], points[1]}, {points[2], points[3]}};
    } else if (points.size() > 1) {
        lines = {points};
    }
    return lines;
}

} // namespace

BodyCanvas::BodyCanvas(const desk::OpenClip& open, QWidget* parent)
    : QWidget(parent), open_(open), view_{0.0, usualAbove} {
    setObjectName("bodyCanvas");
    setAccessibleName(tr("The body in space; arrow keys turn it"));
    setFocusPolicy(Qt::ClickFocus);
    setCursor(Qt::OpenHandCursor);
    constexpr int least = 220;
    setMinimumSize(least, least);
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { update(); });
}

void BodyCanvas::setView(const report::BodyView& view) {
    view_ = view;
    update();
}

void BodyCanvas::setMeasure(const std::string& measureId) {
    measure_ = measureId;
    update();
}

void BodyCanvas::turnBy(double aroundDeg, double aboveDeg) {
    constexpr double wholeTurn = 360.0;
    setView({std::remainder(view_.aroundDeg + aroundDeg, wholeTurn),
             std::clamp(view_.aboveDeg + aboveDeg, 0.0, quarter)});
}

void BodyCanvas::mousePressEvent(QMouseEvent* event) {
    dragged_ = event->position();
}

void BodyCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (!dragged_ || (event->buttons() & Qt::LeftButton) == 0) {
        return;
    }
    const QPointF way = event->position() - *dragged_;
    dragged_ = event->position();
    constexpr double perPixel = 0.5; // degrees
    turnBy(-perPixel * way.x(), perPixel * way.y());
}

void BodyCanvas::keyPressEvent(QKeyEvent* event) {
    constexpr double step = 10.0; // degrees
    switch (event->key()) {
    case Qt::Key_Left:
        turnBy(step, 0.0);
        break;
    case Qt::Key_Right:
        turnBy(-step, 0.0);
        break;
    case Qt::Key_Up:
        turnBy(0.0, step);
        break;
    case Qt::Key_Down:
        turnBy(0.0, -step);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

void BodyCanvas::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::cream);
    if (!open_.hasClip() || !open_.circumstances().body) {
        return;
    }
    const technique::Circumstances& around = open_.circumstances();
    report::BodyScene scene{*around.body,
                            around.time.fieldTimes()[static_cast<std::size_t>(open_.frame())]};
    if (const auto line = technique::targetLine(open_.pack(), around)) {
        scene.targetAzimuth = line->azimuth;
    }
    scene.dominant = around.hand == model::Hand::right ? model::Side::right : model::Side::left;
    scene.target = tr("target");
    if (const auto* measure = technique::findMeasure(open_.pack(), measure_)) {
        scene.lines = linesOf(open_.pack(), *measure, around.hand);
        const auto& readings = open_.review().readings;
        const auto reading =
            std::find_if(readings.begin(), readings.end(),
                         [&](const model::Reading& r) { return r.measureId == measure_; });
        const auto at = model::frameOf(open_.rep(), measure->at);
        if (reading != readings.end() && reading->value && at == open_.frame()) {
            scene.label = words::valueText(*reading->value, reading->unit);
        }
    }
    report::paintBody(painter, rect(), scene, view_);
}

BodyPanel::BodyPanel(const desk::OpenClip& open, const desk::BodyFitting& fitting, QWidget* parent)
    : QWidget(parent), open_(open) {
    setObjectName("bodyPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    const auto button = [&](const QString& name, const QString& text, void (BodyPanel::*look)()) {
        auto* made = new QToolButton;
        made->setObjectName(name);
        made->setText(text);
        made->setFocusPolicy(Qt::NoFocus);
        connect(made, &QToolButton::clicked, this, look);
        row->addWidget(made);
    };
    button("bodyAsFilmed", tr("As filmed"), &BodyPanel::lookAsFilmed);
    button("bodyFromSide", tr("Side"), &BodyPanel::lookFromSide);
    button("bodyFromFront", tr("Front"), &BodyPanel::lookFromFront);
    button("bodyFromAbove", tr("Above"), &BodyPanel::lookFromAbove);
    row->addStretch();
    column->addLayout(row);
    canvas_ = new BodyCanvas(open);
    column->addWidget(canvas_, 1);
    says_ = new QLabel;
    says_->setObjectName("bodySays");
    says_->setWordWrap(true);
    column->addWidget(says_);
    connect(&fitting, &desk::BodyFitting::progress, this, [this](std::optional<double> share) {
        share_ = share;
        refresh();
    });
    for (const auto changed : {&desk::OpenClip::marksChanged, &desk::OpenClip::opened}) {
        connect(&open_, changed, this, [this] { refresh(); });
    }
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { refresh(); });
    refresh();
}

void BodyPanel::lookAsFilmed() {
    canvas_->setView({0.0, 0.0});
}

void BodyPanel::lookFrom(double fromTargetDeg, double aboveDeg) {
    // Where the target is not known, where the film's camera stood is all there is to go by.
    double targetDeg = 0.0;
    if (const auto line = open_.hasClip()
                              ? technique::targetLine(open_.pack(), open_.circumstances())
                              : std::nullopt) {
        targetDeg = model::degreesFromRadians(line->azimuth).value;
    }
    canvas_->setView({targetDeg + fromTargetDeg, aboveDeg});
}

void BodyPanel::lookFromSide() {
    lookFrom(0.0, usualAbove);
}

void BodyPanel::lookFromFront() {
    lookFrom(quarter, usualAbove);
}

void BodyPanel::lookFromAbove() {
    lookFrom(0.0, quarter);
}

void BodyPanel::refresh() {
    if (!open_.hasClip()) {
        says_->clear();
        return;
    }
    const technique::Circumstances& around = open_.circumstances();
    const model::Seconds now = around.time.fieldTimes()[static_cast<std::size_t>(open_.frame())];
    if (around.bodyOutdated) {
        constexpr int hundred = 100;
        const QString share = share_ ? QString::number(static_cast<int>(hundred * *share_)) : "0";
        says_->setText(
            around.body
                ? tr("The body follows your marks as far as it can; all of it is being searched "
                     "anew: %1 %.")
                      .arg(share)
                : tr("The body in space is being worked out: %1 %.").arg(share));
    } else if (!around.body) {
        says_->setText(tr("No body in space yet: it needs all landmarks of the body at the key "
                          "positions, or in all frames. Propose the player's landmarks."));
    } else if (!around.body->covers(now)) {
        says_->setText(tr("Nothing tells of the body here: it is known at the key positions, and "
                          "between them where landmarks are there in all frames."));
    } else {
        says_->setText(tr("Warm: the throwing or hitting side. Where limbs look blurred, the film "
                          "does not tell them apart. Drag to turn."));
    }
}

} // namespace kestrel::app
