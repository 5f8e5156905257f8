#include "app/bench/curves_band.h"

#include "app/bench/curves_plot.h"
#include "app/shared/clip_map.h"
#include "app/shared/text.h"
#include "technique/kinds/measure_kind.h"
#include "words/measured.h"
#include "words/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <utility>

namespace kestrel::app {
namespace {

/// What the film says of two links that follow each other in the pack.
QString stepText(const technique::LinkStep& step, double frameRate) {
    const QString gap = CurvesBand::tr("%1 ± %2 ms")
                            .arg(std::lround(std::abs(step.gapMs)))
                            .arg(std::lround(step.u95Ms));
    using Order = technique::LinkStep::Order;
    QString said;
    switch (step.order) {
    case Order::follows:
        said = CurvesBand::tr("%1 later ✓").arg(gap);
        break;
    case Order::leads:
        said = CurvesBand::tr("%1 earlier ▲").arg(gap);
        break;
    case Order::cannotTell:
        said = CurvesBand::tr("can't be separated at %1 a second").arg(std::lround(frameRate));
        break;
    }
    if (step.gain) {
        said += CurvesBand::tr(", ×%1").arg(*step.gain, 0, 'f', 1);
    }
    return said;
}

} // namespace

CurvesBand::CurvesBand(desk::OpenClip& open, ClipMap& map, QWidget* parent)
    : QWidget(parent), open_(open), map_(map) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    what_ = new QComboBox;
    what_->setObjectName("curvesOf");
    what_->setAccessibleName(tr("Which curves"));
    what_->setFocusPolicy(Qt::NoFocus);
    what_->addItem(tr("Sequence"), sequence);
    what_->addItem(tr("Accelerations"), accelerations);
    what_->addItem(tr("Chosen reading"), reading);
    top->addWidget(what_);
    says_ = new QLabel;
    says_->setObjectName("curvesSay");
    says_->setWordWrap(true);
    top->addWidget(says_, 1);
    column->addLayout(top);
    plot_ = new CurvesPlot(open_, map);
    column->addWidget(plot_);
    connect(what_, &QComboBox::activated, this, [this] {
        lookAtCurves_ = true;
        refresh();
    });
    const auto refreshIfSeen = [this] {
        if (isVisible()) {
            refresh();
        }
    };
    connect(&open_, &desk::OpenClip::opened, this, refreshIfSeen);
    connect(&open_, &desk::OpenClip::repOpened, this, refreshIfSeen);
    connect(&open_, &desk::OpenClip::marksChanged, this, refreshIfSeen);
}

void CurvesBand::setMeasure(const std::string& measureId) {
    measure_ = measureId;
    if (isVisible() && what_->currentData() == reading) {
        refresh();
    }
}

void CurvesBand::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    lookAtCurves_ = true;
    refresh();
}

void CurvesBand::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    what_->currentData() == reading ? showReading() : showSequence();
}

void CurvesBand::showSequence() {
    const technique::SequenceReading read =
        technique::readSequence(open_.pack(), open_.rep(), open_.circumstances());
    lookAt(read);
    if (read.missing) {
        says_->setText(words::inWords(read.missing->why));
        plot_->setCurves({}, PlotFoot::zero);
        return;
    }
    if (what_->currentData() == accelerations) {
        showAccelerations(read);
        return;
    }
    std::vector<PlottedCurve> curves;
    QStringList said;
    QStringList reasons;
    for (std::size_t i = 0; i < read.links.size(); ++i) {
        const technique::LinkCurve& link = read.links[i];
        curves.push_back({text(link.name), link.unit, link.points, link.peak, std::nullopt});
        QString one = tr("<b>%1 %2</b>").arg(i + 1).arg(text(link.name).toHtmlEscaped());
        if (link.peak) {
            one += " " + words::valueText(link.peak->value, link.unit);
        } else {
            one += tr(" –");
            reasons << words::inWords(link.refusal).toHtmlEscaped();
        }
        for (const technique::LinkStep& step : read.steps) {
            if (step.later == link.linkId) {
                one += " (" + stepText(step, read.frameRate) + ")";
            }
        }
        said << one;
    }
    reasons.removeDuplicates();
    if (reasons.size() == static_cast<qsizetype>(read.links.size())) {
        reasons.resize(1); // one and the same thing is missing for all
    }
    says_->setText(said.join(" → ") + (reasons.isEmpty() ? QString() : "<br>" + reasons.join(' ')));
    plot_->setCurves(std::move(curves), PlotFoot::zero);
}

void CurvesBand::showAccelerations(const technique::SequenceReading& read) {
    std::vector<PlottedCurve> curves;
    QStringList said;
    for (std::size_t i = 0; i < read.links.size(); ++i) {
        const technique::LinkCurve& link = read.links[i];
        const model::Unit unit = technique::growthUnit(link.unit);
        const auto [braked, gained] =
            std::minmax_element(link.growth.begin(), link.growth.end(),
                                [](const auto& a, const auto& b) { return a.value < b.value; });
        QString one = tr("<b>%1 %2</b>").arg(i + 1).arg(text(link.name).toHtmlEscaped());
        std::optional<technique::CurvePoint> numberedAt;
        if (link.growth.empty()) {
            one += tr(" –");
        } else {
            one += tr(" gains up to %1, is braked by up to %2")
                       .arg(words::valueText(std::max(0.0, gained->value), unit),
                            words::valueText(std::max(0.0, -braked->value), unit));
            numberedAt = *gained;
        }
        said << one;
        curves.push_back({text(link.name), unit, link.growth, std::nullopt, numberedAt});
    }
    says_->setText(said.join(" · "));
    plot_->setCurves(std::move(curves), PlotFoot::minusHighest);
}

void CurvesBand::lookAt(const technique::SequenceReading& read) {
    if (!std::exchange(lookAtCurves_, false)) {
        return;
    }
    if (read.missing) {
        map_.showRep();
        return;
    }
    const model::ClipTime& time = open_.circumstances().time;
    const double aside = 0.5 * (read.to - read.from); // the positions about it are worth seeing
    map_.show({model::frameAtFieldTime(time, model::Seconds(read.from - aside)),
               model::frameAtFieldTime(time, model::Seconds(read.to + aside))});
}

void CurvesBand::showReading() {
    if (std::exchange(lookAtCurves_, false)) {
        map_.showRep();
    }
    const technique::Measure* measure = technique::findMeasure(open_.pack(), measure_);
    if (measure == nullptr) {
        says_->setText(tr("Choose a reading in the list: its course through the film shows here."));
        plot_->setCurves({}, PlotFoot::lowest);
        return;
    }
    const model::FrameSpan span =
        open_.rep().span.value_or(model::FrameSpan{0, open_.index().frameCount() - 1});
    const auto course = technique::courseOfMeasure(open_.pack(), open_.rep(), open_.circumstances(),
                                                   *measure, span);
    if (course.empty()) {
        says_->setText(
            tr("<b>%1</b>: no frame but its own has what it needs, or it is no reading of "
               "an instant.")
                .arg(text(measure->name).toHtmlEscaped()));
        plot_->setCurves({}, PlotFoot::lowest);
        return;
    }
    const auto [low, high] =
        std::minmax_element(course.begin(), course.end(),
                            [](const auto& a, const auto& b) { return a.value < b.value; });
    const auto& readings = open_.review().readings;
    const auto own = std::find_if(readings.begin(), readings.end(),
                                  [&](const auto& r) { return r.measureId == measure_; });
    says_->setText(tr("<b>%1</b> from frame to frame, with its 95 % band: %2 to %3")
                       .arg(text(measure->name).toHtmlEscaped(),
                            words::valueText(low->value, measure->unit),
                            words::valueText(high->value, measure->unit)));
    plot_->setCurves({{text(measure->name), measure->unit, course, std::nullopt, std::nullopt}},
                     PlotFoot::lowest, own == readings.end() ? std::nullopt : own->range);
}

} // namespace kestrel::app
