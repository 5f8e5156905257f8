#include "app/compare/differences_panel.h"

#include "app/compare/pair_stage.h"
#include "app/shared/labels.h"
#include "app/shared/repeats_chart.h"
#include "app/shared/verdict_text.h"
#include "report/palette.h"
#include "words/day_text.h"
#include "words/measured.h"
#include "words/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

/// Places with a value: fewer are no curve.
constexpr std::ptrdiff_t fewestPlaces = 8;

enum Column { reading, here, there, difference, columns };

/// Names of faults as one line; empty for none.
QString faultLine(const technique::Pack& pack, const QString& where,
                  const std::vector<std::string>& ids) {
    QStringList names;
    for (const std::string& id : ids) {
        const technique::FaultDefinition* fault = technique::findFault(pack, id);
        names << text(fault == nullptr ? id : fault->name);
    }
    return names.isEmpty()
               ? QString()
               : QStringLiteral("<b>%1</b> %2").arg(where, names.join(", ").toHtmlEscaped());
}

QString valueOrDash(const std::optional<double>& value, model::Unit unit) {
    return value ? words::valueText(*value, unit) : QStringLiteral("–");
}

/// More or less for certain, with a sign that says which way without colour.
QString differenceText(const coaching::Difference& d) {
    if (!d.read()) {
        return QStringLiteral("–");
    }
    const QString value = words::valueText(d.by, d.u95, d.unit);
    return d.told() ? (d.by > 0.0 ? QStringLiteral("▲ ") : QStringLiteral("▼ ")) + value
                    : QStringLiteral("≈ ") + value;
}

} // namespace

DifferencesPanel::DifferencesPanel(desk::OpenClip& open, desk::OpenVisit& visit,
                                   desk::Comparison& comparison, QWidget* parent)
    : QWidget(parent), open_(open), visit_(visit), comparison_(comparison) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(headingLabel(tr("What differs")));
    says_ = wrappedLabel("differencesSay");
    column->addWidget(says_);
    findings_ = wrappedLabel("findingsBetween");
    findings_->setTextFormat(Qt::RichText);
    column->addWidget(findings_);
    order_ = new QComboBox;
    order_->setObjectName("differenceOrder");
    order_->setAccessibleName(tr("Order of the readings"));
    order_->setFocusPolicy(Qt::NoFocus);
    order_->addItem(tr("as the motion goes"),
                    static_cast<int>(coaching::DifferenceOrder::byPosition));
    order_->addItem(tr("what differs most first"),
                    static_cast<int>(coaching::DifferenceOrder::bySize));
    order_->addItem(tr("what the plan asks first"),
                    static_cast<int>(coaching::DifferenceOrder::byPlan));
    order_->setCurrentIndex(1);
    column->addWidget(order_);
    table_ = new QTreeWidget;
    table_->setObjectName("differences");
    table_->setAccessibleName(tr("Readings of both reps"));
    table_->setRootIsDecorated(false);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->setColumnCount(columns);
    table_->setTextElideMode(Qt::ElideRight);
    table_->header()->setStretchLastSection(false);
    table_->header()->setSectionResizeMode(reading, QHeaderView::Stretch);
    for (const int c : {here, there, difference}) {
        table_->header()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    }
    column->addWidget(table_, 1);
    course_ = wrappedLabel("differenceCourse");
    course_->hide();
    column->addWidget(course_);
    chart_ = new RepeatsChart;
    chart_->hide();
    column->addWidget(chart_);
    connect(order_, &QComboBox::activated, this, [this] { showTable(); });
    connect(table_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item) {
        const QString id = item->data(reading, Qt::UserRole).toString();
        chosen_ = chosen_ == id.toStdString() ? std::string() : id.toStdString();
        if (chosen_.empty()) {
            table_->clearSelection();
        }
        showCourses();
        emit this->chosen(QString::fromStdString(chosen_),
                          item->data(here, Qt::UserRole).toString());
    });
    connect(&comparison_, &desk::Comparison::changed, this, [this] { refresh(); });
    refresh();
}

coaching::DifferenceOrder DifferencesPanel::order() const {
    return static_cast<coaching::DifferenceOrder>(order_->currentData().toInt());
}

void DifferencesPanel::refresh() {
    const bool both = open_.hasClip() && comparison_.hasOther();
    for (QWidget* widget : std::initializer_list<QWidget*>{findings_, order_, table_}) {
        widget->setVisible(both);
    }
    if (!both) {
        chosen_.clear();
        says_->setText(open_.hasClip()
                           ? tr("Nothing stands beside this rep yet. Another rep of the "
                                "player with key positions can, and the pose model of "
                                "techniques that ship.")
                           : QString());
        course_->hide();
        chart_->hide();
        return;
    }
    constexpr std::size_t most = 4;
    says_->setText(words::inWords(coaching::toldDifferences(open_.pack(), comparison_.differences(),
                                                            comparison_.thanOther(), most))
                       .join('\n'));
    table_->setHeaderLabels({tr("Reading"), tr("here"), tr("there"), tr("difference")});
    table_->headerItem()->setToolTip(here, words::dayText(open_.clip().filmed));
    table_->headerItem()->setToolTip(there, otherTitle(comparison_, open_));
    table_->headerItem()->setToolTip(
        difference, tr("Here less there, with its 95 % uncertainty; what both are off by alike "
                       "does not count. ▲ more and ▼ less for certain, ≈ too close to tell"));
    showFindings();
    showTable();
    showCourses();
}

void DifferencesPanel::showFindings() {
    const coaching::FaultsBetween between =
        coaching::faultsBetween(open_.review().findings, comparison_.other().review.findings);
    QStringList lines{faultLine(open_.pack(), tr("Only here:"), between.onlyHere),
                      faultLine(open_.pack(), tr("In both:"), between.inBoth),
                      faultLine(open_.pack(), tr("Only there:"), between.onlyThere)};
    lines.removeAll(QString());
    findings_->setText(lines.isEmpty() ? tr("No fault shows for certain in either.")
                                       : lines.join("<br>"));
}

void DifferencesPanel::showTable() {
    table_->clear();
    const std::vector<coaching::Difference> all =
        coaching::ordered(open_.pack(), comparison_.differences(), order(), visit_.review().plan);
    for (const coaching::Difference& d : all) {
        const technique::Measure& measure = *technique::findMeasure(open_.pack(), d.measureId);
        const QString position = text(technique::findPosition(open_.pack(), d.positionId)->name);
        auto* item = new QTreeWidgetItem(table_);
        item->setText(reading, tr("%1 · %2").arg(position, text(measure.name)));
        item->setToolTip(reading, item->text(reading));
        item->setData(reading, Qt::UserRole, QString::fromStdString(d.measureId));
        item->setData(here, Qt::UserRole, QString::fromStdString(d.positionId));
        item->setText(here, valueOrDash(d.here, d.unit));
        item->setText(there, valueOrDash(d.there, d.unit));
        item->setText(difference, differenceText(d));
        for (const int c : {here, there, difference}) {
            item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
        }
        if (d.told()) {
            QFont bold = item->font(difference);
            bold.setBold(true);
            item->setFont(difference, bold);
            item->setForeground(difference, report::chestnut);
        }
        if (d.measureId == chosen_) {
            item->setSelected(true);
        }
    }
}

void DifferencesPanel::showCourses() {
    chart_->hide();
    const technique::Measure* measure = technique::findMeasure(open_.pack(), chosen_);
    course_->setVisible(measure != nullptr);
    if (measure == nullptr) {
        return;
    }
    const coaching::NormalisedCurves curves =
        coaching::normalised(open_.pack(), {prepare::courseOf(open_.judged(), chosen_),
                                            prepare::courseOf(comparison_.other(), chosen_)});
    const bool drawn = curves.reps.size() == 2 &&
                       std::all_of(curves.reps.begin(), curves.reps.end(), [](const auto& rep) {
                           return std::count_if(rep.begin(), rep.end(), [](const auto& value) {
                                      return value.has_value();
                                  }) >= fewestPlaces;
                       });
    course_->setText(drawn ? tr("%1 over the motion, in step at the key positions: here in full, "
                                "there dashed.")
                                 .arg(text(measure->name))
                           : tr("%1: its course needs landmarks in all frames of both reps.")
                                 .arg(text(measure->name)));
    if (drawn) {
        chart_->setCurves(open_.pack(), *measure, curves);
        chart_->show();
    }
}

} // namespace kestrel::app
