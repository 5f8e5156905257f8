#include "app/film/consistency_panel.h"

#include "technique/reading_text.h"

#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

} // namespace

ConsistencyPanel::ConsistencyPanel(Session& session, QWidget* parent)
    : QWidget(parent), session_(session) {
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
    connect(over_, &QComboBox::activated, this, [this] { refresh(); });
    const auto refreshIfSeen = [this] {
        if (isVisible()) {
            refresh();
        }
    };
    connect(&session_, &Session::clipOpened, this, refreshIfSeen);
    connect(&session_, &Session::marksChanged, this, refreshIfSeen);
}

void ConsistencyPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

std::vector<std::vector<model::Reading>> ConsistencyPanel::readings(Over over) {
    std::vector<std::vector<model::Reading>> reps;
    const model::Player& player = session_.player();
    for (const model::Clip& c : session_.library().clips(player.id)) {
        const bool counts = over == all || c.id == session_.clip().id ||
                            (over == visit && c.filmed == session_.clip().filmed);
        if (!counts) {
            continue;
        }
        for (const model::Rep& rep : session_.library().reps(c.id)) {
            if (rep.techniqueId == session_.pack().id &&
                !(rep.positions.empty() && rep.found.empty())) {
                reps.push_back(session_.judged(player, c, rep).readings);
            }
        }
    }
    return reps;
}

void ConsistencyPanel::refresh() {
    if (!session_.hasClip()) {
        return;
    }
    table_->clear();
    std::vector<std::vector<model::Reading>> reps;
    session_.trying([&] { reps = readings(static_cast<Over>(over_->currentData().toInt())); });
    const auto found = coaching::consistencyOf(session_.pack(), reps);
    if (found.empty()) {
        summary_->setText(tr("%1 reps are marked here; from %2 on, what repeats can be told.")
                              .arg(reps.size())
                              .arg(coaching::fewestReps));
        return;
    }
    const auto nameOf = [&](const coaching::Repeatability& r, const char* between) {
        const technique::Measure& m = *technique::findMeasure(session_.pack(), r.measureId);
        return text(m.name + between + technique::findPosition(session_.pack(), m.at)->name);
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
             text(technique::valueText(r.mean, r.unit) + " ± " +
                  technique::valueText(r.sd, r.unit)),
             byReading ? tr("–") : text(technique::valueText(r.ofPlayer, r.unit)),
             QString::number(r.reps)});
        row->setToolTip(0, nameOf(r, ", "));
        table_->addTopLevelItem(row);
    }
}

} // namespace kestrel::app
