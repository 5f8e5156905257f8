#include "app/compare/pair_stage.h"

#include "app/shared/text.h"
#include "body/mirrored_body.h"
#include "report/palette.h"
#include "technique/judge/target_line.h"
#include "technique/pack/roles.h"
#include "words/day_text.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kestrel::app {
namespace {

constexpr double quarter = 90.0;
constexpr double mostZoom = 12.0;
constexpr double gap = 4.0; ///< between the panels, pixels

std::vector<model::Reading> only(const std::vector<model::Reading>& readings,
                                 const std::string& measure) {
    std::vector<model::Reading> chosen;
    std::copy_if(readings.begin(), readings.end(), std::back_inserter(chosen),
                 [&](const model::Reading& r) { return r.measureId == measure; });
    return chosen;
}

std::optional<report::StandingPlayer> standing(const prepare::JudgedRep& rep) {
    const auto tall = technique::bodyHeight(*rep.pack, rep.rep, rep.circumstances.hand);
    return report::standingPlayer(rep.rep.landmarks,
                                  tall ? std::optional(tall->value) : std::nullopt);
}

std::optional<double> targetOf(const prepare::JudgedRep& rep) {
    const auto line = technique::targetLine(*rep.pack, rep.circumstances);
    return line ? std::optional(line->azimuth) : std::nullopt;
}

} // namespace

QString otherTitle(const desk::Comparison& comparison, const desk::OpenClip& open) {
    if (comparison.otherIsModel()) {
        return PairStage::tr("Pose model");
    }
    const prepare::JudgedRep& other = comparison.other();
    if (other.clip.filmed != open.clip().filmed) {
        return words::dayText(other.clip.filmed);
    }
    return other.clip.id == open.clip().id ? text(other.rep.title) : text(other.clip.title);
}

PairStage::PairStage(desk::OpenClip& open, desk::Comparison& comparison, QWidget* parent)
    : QWidget(parent), open_(open), comparison_(comparison) {
    setObjectName("pairStage");
    setAccessibleName(tr("Both reps"));
    setMinimumSize(420, 220);
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::closed, this, [this] { update(); });
    connect(&open_, &desk::OpenClip::pictureReady, this, [this](int frame) {
        if (open_.hasClip() && frame == open_.frame()) {
            update();
        }
    });
    connect(&comparison_, &desk::Comparison::pictureReady, this, [this] { update(); });
    connect(&comparison_, &desk::Comparison::stepChanged, this, [this] { update(); });
    connect(&comparison_, &desk::Comparison::changed, this, [this] { update(); });
}

void PairStage::setLay(Lay lay) {
    lay_ = lay;
    fit();
}

void PairStage::setOther(Other other) {
    other_ = other;
    update();
}

void PairStage::setMirrored(bool mirrored) {
    mirrored_ = mirrored;
    update();
}

void PairStage::setAnchor(const std::string& role) {
    anchor_ = role;
    update();
}

void PairStage::setAid(report::PairAid aid) {
    aid_ = aid;
    update();
}

void PairStage::setMeasure(const std::string& measureId) {
    measure_ = measureId;
    update();
}

void PairStage::lookFrom(const report::BodyView& fromTarget) {
    view_ = fromTarget;
    update();
}

void PairStage::fit() {
    zooms_ = {};
    update();
}

std::array<QRectF, 2> PairStage::panels() const {
    if (lay_ == Lay::over) {
        return {QRectF(rect()), QRectF(rect())};
    }
    const double half = (width() - gap) / 2;
    return {QRectF(0, 0, half, height()), QRectF(half + gap, 0, half, height())};
}

std::size_t PairStage::panelAt(QPointF place) const {
    return lay_ == Lay::beside && place.x() > width() / 2.0 ? 1 : 0;
}

std::optional<model::Landmark> PairStage::anchorOf(const prepare::JudgedRep& rep) const {
    return anchor_.empty() ? std::nullopt
                           : technique::landmarkForRole(*rep.pack, anchor_, rep.circumstances.hand);
}

std::optional<report::PairSide> PairStage::sideHere() const {
    auto player = standing(open_.judged());
    if (!player) {
        return std::nullopt;
    }
    report::PairSide side;
    side.frame = open_.frame();
    side.picture = open_.picture(side.frame);
    if (side.picture.isNull()) {
        side.picture = open_.nearestPicture(side.frame);
    }
    side.pictureSize = QSizeF(open_.index().width, open_.index().height);
    side.landmarks = &open_.rep().landmarks;
    side.player = std::move(*player);
    side.hand = open_.circumstances().hand;
    side.readings = only(open_.review().readings, measure_);
    return side;
}

std::optional<report::PairSide> PairStage::sideThere() const {
    const auto frame = comparison_.otherFrame(open_.frame());
    const prepare::JudgedRep& other = comparison_.other();
    auto player = standing(other);
    if (!frame || !player) {
        return std::nullopt;
    }
    report::PairSide side;
    side.frame = *frame;
    side.picture = comparison_.otherPicture(*frame);
    if (side.picture.isNull()) {
        side.picture = comparison_.nearestOtherPicture(*frame);
    }
    side.pictureSize = QSizeF(comparison_.otherSize());
    side.landmarks = &other.rep.landmarks;
    side.player = std::move(*player);
    side.hand = other.circumstances.hand;
    side.readings = only(other.review.readings, measure_);
    return side;
}

QTransform PairStage::zoomed(QTransform map, std::size_t side, const QRectF& panel) const {
    const Zoom& zoom = zooms_.at(side);
    const QPointF middle = panel.center();
    return map * QTransform::fromTranslate(-middle.x(), -middle.y()) *
           QTransform::fromScale(zoom.factor, zoom.factor) *
           QTransform::fromTranslate(middle.x() + zoom.moved.x(), middle.y() + zoom.moved.y());
}

void PairStage::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.fillRect(rect(), report::nearBlack);
    painted_ = {-1, -1};
    if (!open_.hasClip()) {
        paintMissing(painter, rect(),
                     tr("No clip is open. Choose one on the Squad station; another rep then stands "
                        "beside it here."));
    } else if (lay_ == Lay::inSpace) {
        paintBodies(painter);
    } else {
        paintPictures(painter);
    }
}

void PairStage::paintPictures(QPainter& painter) {
    const auto [left, right] = panels();
    const auto here = sideHere();
    if (!here) {
        paintMissing(painter, rect(),
                     tr("The player's landmarks are not known in this rep yet: propose them on the "
                        "Bench, or place those of the key positions."));
        return;
    }
    const QTransform hereMap =
        zoomed(report::standingMap(*here, left, report::usualHeightShare, false), 0, left);
    report::paintSide(painter, left, *here, hereMap);
    painted_.first = open_.picture(here->frame).isNull() ? -1 : here->frame;
    if (!comparison_.hasOther()) {
        paintMissing(painter, lay_ == Lay::over ? QRectF() : right,
                     tr("Choose above what to compare with."));
        paintTitle(painter, left, words::dayText(open_.clip().filmed));
        return;
    }
    const auto there = sideThere();
    const QString title = otherTitle(comparison_, open_);
    if (there) {
        QTransform map = report::standingMap(*there, right, report::usualHeightShare, mirrored_);
        if (lay_ == Lay::over) {
            map = report::mapOver(*here, hereMap, *there, zoomed(map, 0, right),
                                  {anchorOf(open_.judged()), anchorOf(comparison_.other())});
            if (other_ == Other::asPicture) {
                painter.setOpacity(0.5);
                report::paintSide(painter, right, *there, map);
                painter.setOpacity(1.0);
            } else {
                report::paintBodyLines(painter, *there, map, true);
            }
            report::paintBodyLines(painter, *here, hereMap, false);
        } else {
            map = zoomed(map, 1, right);
            if (there->picture.isNull()) {
                paintMissing(painter, right,
                             comparison_.otherIsModel() ? tr("The pose model is being drawn…")
                                                        : tr("The other film is being read…"));
            }
            report::paintSide(painter, right, *there, map);
            report::paintAid(painter, right, *there, map, aid_, anchorOf(comparison_.other()));
        }
        painted_.second = comparison_.otherPicture(there->frame).isNull() ? -1 : there->frame;
    } else if (lay_ == Lay::beside) {
        paintMissing(painter, right, tr("The other film does not show this moment."));
    }
    report::paintAid(painter, left, *here, hereMap, aid_, anchorOf(open_.judged()));
    if (lay_ == Lay::over) {
        paintTitle(painter, left,
                   !there ? tr("%1 does not show this moment").arg(title)
                   : other_ == Other::asLines
                       ? tr("%1, over it in dashed lines %2")
                             .arg(words::dayText(open_.clip().filmed), title)
                       : tr("%1, over it as a picture %2")
                             .arg(words::dayText(open_.clip().filmed), title));
    } else {
        paintTitle(painter, left, words::dayText(open_.clip().filmed));
        paintTitle(painter, right, title);
    }
}

void PairStage::paintBodies(QPainter& painter) {
    const auto [left, right] = panels();
    painter.fillRect(rect(), report::cream);
    paintBodyOf(painter, left, open_.judged(), open_.frame(), false, false);
    const auto frame =
        comparison_.hasOther() ? comparison_.otherFrame(open_.frame()) : std::nullopt;
    if (frame) {
        paintBodyOf(painter, left, comparison_.other(), *frame, mirrored_, true);
    }
    paintTitle(painter, left, words::dayText(open_.clip().filmed));
    if (!comparison_.hasOther()) {
        paintMissing(painter, right, tr("Choose above what to compare with."));
        return;
    }
    if (!frame) {
        paintMissing(painter, right, tr("The other film does not show this moment."));
        return;
    }
    paintBodyOf(painter, right, comparison_.other(), *frame, mirrored_, false);
    paintTitle(painter, right, otherTitle(comparison_, open_));
    painted_ = {open_.frame(), *frame};
}

void PairStage::paintBodyOf(QPainter& painter, const QRectF& panel, const prepare::JudgedRep& rep,
                            int frame, bool mirror, bool light) const {
    const technique::Circumstances& around = rep.circumstances;
    const model::Seconds time = around.time.fieldTimes().at(static_cast<std::size_t>(frame));
    if (!around.body || !around.body->covers(time)) {
        if (!light) {
            paintMissing(painter, panel,
                         tr("Nothing tells of the body here: it is known at the key positions, and "
                            "between them where landmarks are there in all frames."));
        }
        return;
    }
    const bool rightHanded = (around.hand == model::Hand::right) != mirror;
    const std::optional<body::FittedBody> inMirror =
        mirror ? std::optional(body::mirrored(*around.body)) : std::nullopt;
    report::BodyScene scene{inMirror ? *inMirror : *around.body, time};
    scene.targetAzimuth = targetOf(rep);
    if (mirror && scene.targetAzimuth) {
        scene.targetAzimuth = std::numbers::pi - *scene.targetAzimuth;
    }
    scene.dominant = rightHanded ? model::Side::right : model::Side::left;
    scene.target = tr("target");
    scene.light = light;
    report::BodyView view = view_;
    view.aroundDeg += model::degreesFromRadians(scene.targetAzimuth.value_or(0.0)).value;
    painter.save();
    painter.setClipRect(panel);
    report::paintBody(painter, panel, scene, view);
    painter.restore();
}

void PairStage::paintMissing(QPainter& painter, const QRectF& panel, const QString& why) const {
    if (panel.isEmpty()) {
        return;
    }
    painter.fillRect(panel, report::slate);
    painter.setPen(Qt::white);
    constexpr double margin = 20.0;
    painter.drawText(panel.adjusted(margin, margin, -margin, -margin),
                     Qt::AlignCenter | Qt::TextWordWrap, why);
}

void PairStage::paintTitle(QPainter& painter, const QRectF& panel, const QString& title) const {
    const QFontMetricsF metrics(painter.font());
    constexpr double margin = 8.0;
    const QString shown = metrics.elidedText(title, Qt::ElideRight, panel.width() - 4 * margin);
    const QRectF box(panel.left() + margin, panel.top() + margin,
                     metrics.horizontalAdvance(shown) + 2 * margin, metrics.height() + margin);
    painter.setPen(Qt::NoPen);
    painter.setBrush(report::nearBlack);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(report::cream);
    painter.drawText(box, Qt::AlignCenter, shown);
}

void PairStage::wheelEvent(QWheelEvent* event) {
    constexpr double perNotch = 1.25;
    constexpr double notch = 120.0;
    if (lay_ != Lay::inSpace) {
        Zoom& zoom = zooms_.at(panelAt(event->position()));
        const double factor = std::clamp(
            zoom.factor * std::pow(perNotch, event->angleDelta().y() / notch), 1.0, mostZoom);
        // The spot under the pointer stays there.
        const QPointF from = event->position() - panels().at(panelAt(event->position())).center();
        zoom.moved = from - (from - zoom.moved) * (factor / zoom.factor);
        zoom.factor = factor;
        if (factor == 1.0) {
            zoom.moved = {};
        }
        update();
    }
    event->accept();
}

void PairStage::mousePressEvent(QMouseEvent* event) {
    dragged_ = event->position();
    draggedSide_ = panelAt(event->position());
}

void PairStage::mouseMoveEvent(QMouseEvent* event) {
    if (!dragged_) {
        return;
    }
    const QPointF way = event->position() - *dragged_;
    dragged_ = event->position();
    if (lay_ == Lay::inSpace) {
        constexpr double perPixel = 0.5; // degrees
        view_.aroundDeg = std::remainder(view_.aroundDeg - perPixel * way.x(), 4 * quarter);
        view_.aboveDeg = std::clamp(view_.aboveDeg + perPixel * way.y(), 0.0, quarter);
    } else if (zooms_.at(draggedSide_).factor > 1.0) {
        zooms_.at(draggedSide_).moved += way;
    }
    update();
}

void PairStage::mouseReleaseEvent(QMouseEvent* /*event*/) {
    dragged_.reset();
}

} // namespace kestrel::app
