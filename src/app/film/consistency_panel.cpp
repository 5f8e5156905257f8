#include "app/film/consistency_panel.h"

#include "app/shared/repeats_chart.h"
#include "app/shared/text.h"
#include "coaching/shot_record.h"
#include "words/measured.h"

#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr double perHundred = 100.0;

} // namespace

ConsistencyPanel::ConsistencyPanel(const records::Library& library, desk::Problems& problems,
                                   desk::Judging& judging, desk::FilmIndices& films,
                                   desk::OpenClip& open, QWidget* parent)
    : QWidget(parent), library_(library), problems_(problems), judging_(judging), open_(open) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    over_ = new QComboBox;
    over_->setObjectName("consistencyOver");
    over_->setAccessibleName(tr("Over which reps"));
    over_->addItem(tr("over the reps of this clip"), clip);
    over_->addItem(tr("over the reps of this visit"), visit);
    over_->addItem(tr("over all of the player's reps"), all);
    over_->setCurrentIndex(visit);
    column->addWidget(over_);
    summary_ = new QLabel;
    summary_->setObjectName("consistencySummary");
    summary_->setWordWrap(true);
    column->addWidget(summary_);
    record_ = new QLabel;
    record_->setObjectName("shotRecord");
    record_->setWordWrap(true);
    record_->hide();
    column->addWidget(record_);
    table_ = new QTreeWidget;
    table_->setObjectName("consistency");
    table_->setAccessibleName(tr("What repeats"));
    table_->setRootIsDecorated(false);
    table_->setHeaderLabels({tr("Measure"), tr("mean ± scatter"), tr("the player's"), tr("reps")});
    table_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int c = 1; c < table_->columnCount(); ++c) {
        table_->header()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    }
    table_->header()->setStretchLastSection(false);
    table_->headerItem()->setToolTip(1, tr("Mean and standard deviation over the reps"));
    table_->headerItem()->setToolTip(
        2, tr("What is left of the scatter without that of placing and frame spacing"));
    column->addWidget(table_, 1);
    courses_ = new QLabel;
    courses_->setObjectName("repeatsCourse");
    courses_->setWordWrap(true);
    courses_->hide();
    column->addWidget(courses_);
    chart_ = new RepeatsChart;
    chart_->hide();
    column->addWidget(chart_);
    connect(table_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item) {
        const std::string id = item->data(0, Qt::UserRole).toString().toStdString();
        chosen_ = chosen_ == id ? std::string() : id;
        showCourses();
    });
    connect(over_, &QComboBox::activated, this, [this] { refresh(); });
    const auto refreshIfSeen = [this] {
        if (isVisible()) {
            refresh();
        }
    };
    connect(&open_, &desk::OpenClip::opened, this, refreshIfSeen);
    connect(&open_, &desk::OpenClip::marksChanged, this, refreshIfSeen);
    connect(&films, &desk::FilmIndices::more, this, refreshIfSeen);
}

void ConsistencyPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

std::vector<std::pair<model::Clip, model::Rep>> ConsistencyPanel::reps(Over over) {
    auto reps = repsOver(over);
    std::erase_if(reps, [](const auto& entry) {
        return entry.second.positions.empty() && entry.second.found.empty();
    });
    return reps;
}

std::vector<std::pair<model::Clip, model::Rep>> ConsistencyPanel::repsOver(Over over) {
    std::vector<std::pair<model::Clip, model::Rep>> reps;
    for (const model::Clip& c : library_.clips(open_.player().id)) {
        const bool counts = over == all || c.id == open_.clip().id ||
                            (over == visit && c.filmed == open_.clip().filmed);
        if (!counts) {
            continue;
        }
        for (const model::Rep& rep : library_.reps(c.id)) {
            if (rep.techniqueId == open_.pack().id) {
                reps.emplace_back(c, rep);
            }
        }
    }
    return reps;
}

std::vector<std::vector<model::Reading>> ConsistencyPanel::readings(Over over) {
    std::vector<std::vector<model::Reading>> readings;
    for (const auto& [c, rep] : reps(over)) {
        const auto judged = judging_.of(open_.player(), c, rep);
        if (!judged->notJudged) {
            readings.push_back(judged->review.readings);
        }
    }
    return readings;
}

void ConsistencyPanel::showCourses() {
    courses_->setVisible(!chosen_.empty());
    chart_->hide();
    const technique::Measure* measure = technique::findMeasure(open_.pack(), chosen_);
    if (measure == nullptr) {
        courses_->hide();
        return;
    }
    std::vector<coaching::TimedCourse> timed;
    problems_.trying([&] {
        for (const auto& [c, rep] : reps(static_cast<Over>(over_->currentData().toInt()))) {
            coaching::TimedCourse course =
                prepare::courseOf(*judging_.of(open_.player(), c, rep), measure->id);
            // Fewer are no curve, nor are the key positions alone.
            constexpr std::size_t fewestFrames = 8;
            const std::size_t positions = model::allPositions(rep).size();
            if (course.course.size() >= std::max(fewestFrames, positions + 1)) {
                timed.push_back(std::move(course));
            }
        }
    });
    const coaching::NormalisedCurves curves = coaching::normalised(open_.pack(), timed);
    if (curves.marks.empty()) {
        courses_->setText(tr("%1: its course needs landmarks in all frames, in reps that share key "
                             "positions; Propose on the Bench finds them.")
                              .arg(text(measure->name)));
        return;
    }
    courses_->setText(curves.band.empty()
                          ? tr("%1 in %2 reps, laid over each other at the key positions.")
                                .arg(text(measure->name))
                                .arg(timed.size())
                          : tr("%1 in %2 reps, laid over each other at the key positions; thick: "
                               "mean, band: ± one standard deviation.")
                                .arg(text(measure->name))
                                .arg(timed.size()));
    chart_->setCurves(open_.pack(), *measure, curves);
    chart_->show();
}

void ConsistencyPanel::showRecord() {
    std::vector<model::Rep> reps;
    for (const auto& [c, rep] : repsOver(static_cast<Over>(over_->currentData().toInt()))) {
        reps.push_back(rep);
    }
    QStringList spots;
    for (const coaching::ShotCount& count : coaching::shotRecord(open_.pack(), reps)) {
        spots << tr("%1 %2 of %3 (%4 to %5 %)")
                     .arg(text(count.name).toLower())
                     .arg(count.made)
                     .arg(count.tries)
                     .arg(std::lround(perHundred * count.low))
                     .arg(std::lround(perHundred * count.high));
    }
    record_->setVisible(!spots.isEmpty());
    record_->setText(
        tr("Went in: %1. In brackets: what the share may be, 95 %.").arg(spots.join(tr(" · "))));
}

void ConsistencyPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    table_->clear();
    showRecord();
    std::vector<std::vector<model::Reading>> reps;
    problems_.trying([&] { reps = readings(static_cast<Over>(over_->currentData().toInt())); });
    const auto found = coaching::consistencyOf(open_.pack(), reps);
    showCourses();
    if (found.empty()) {
        summary_->setText(tr("%1 reps are marked here; from %2 on, what repeats can be told.")
                              .arg(reps.size())
                              .arg(coaching::fewestReps));
        return;
    }
    const auto nameOf = [&](const coaching::Repeatability& r, const char* between) {
        const technique::Measure& m = *technique::findMeasure(open_.pack(), r.measureId);
        return text(m.name + between + technique::findPosition(open_.pack(), m.at)->name);
    };
    const auto ranked = std::count_if(found.begin(), found.end(),
                                      [](const auto& r) { return r.shareOfRange.has_value(); });
    const QString note = tr(" –: no more than the reading itself scatters.");
    summary_->setText((ranked < 2
                           ? tr("Over %1 reps.").arg(reps.size())
                           : tr("Over %1 reps. Repeats least: %2. Repeats best: %3.")
                                 .arg(reps.size())
                                 .arg(nameOf(found.front(), ", "),
                                      nameOf(found[static_cast<std::size_t>(ranked) - 1], ", "))) +
                      note);
    for (const coaching::Repeatability& r : found) {
        const bool byReading = r.ofPlayer <= 0.0;
        auto* row = new QTreeWidgetItem(
            {nameOf(r, "\n"),
             words::valueText(r.mean, r.unit) + " ± " + words::valueText(r.sd, r.unit),
             byReading ? tr("–") : words::valueText(r.ofPlayer, r.unit), QString::number(r.reps)});
        row->setToolTip(0, tr("%1: click to see its course over the reps").arg(nameOf(r, ", ")));
        row->setData(0, Qt::UserRole, text(r.measureId));
        table_->addTopLevelItem(row);
    }
}

} // namespace kestrel::app
