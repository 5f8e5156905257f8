#include "app/plan/homework_panel.h"

#include "app/shared/labels.h"
#include "coaching/drill_texts.h"
#include "coaching/schedule.h"
#include "model/input_error.h"
#include "report/document_pdf.h"
#include "report/homework_calendar.h"
#include "report/take_home.h"
#include "words/day_text.h"
#include "words/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QDateEdit>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLocale>
#include <QPushButton>
#include <QSpinBox>
#include <QStandardPaths>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

constexpr int dayRole = Qt::UserRole;
constexpr int drillRole = Qt::UserRole + 1;

model::Day dayOf(const QTreeWidgetItem& item) {
    return words::dayOf(item.data(0, dayRole).toDate());
}

QString dayName(model::Day day) {
    return QLocale().toString(words::dateOf(day), "ddd d MMM");
}

} // namespace

HomeworkPanel::HomeworkPanel(const records::Library& library, desk::Problems& problems,
                             desk::Shelf& shelf, desk::OpenClip& open, desk::OpenVisit& visit,
                             desk::PlanEdits& planEdits, model::Clock clock, QWidget* parent)
    : QWidget(parent),
      library_(library),
      problems_(problems),
      shelf_(shelf),
      open_(open),
      visit_(visit),
      planEdits_(planEdits),
      clock_(std::move(clock)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 6, 4, 0);
    column->addWidget(makeWish());
    remarks_ = wrappedLabel("homeworkRemarks");
    column->addWidget(remarks_);
    column->addWidget(makeDays(), 1);
}

QWidget* HomeworkPanel::makeWish() {
    auto* wish = new QWidget;
    auto* grid = new QGridLayout(wish);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    grid->addWidget(new QLabel(tr("Days")), 1, 0);
    auto* gameDays = new QLabel(tr("Throws\nin games"));
    gameDays->setToolTip(tr("Throws of a usual game or practice on that day. How much rest follows "
                            "them says the load rule, on the Packs station."));
    grid->addWidget(gameDays, 2, 0);
    for (int day = 0; day < daysAWeek; ++day) {
        const QString name = QLocale().dayName(day + 1, QLocale::ShortFormat);
        auto* box = new QCheckBox(name);
        box->setObjectName(QStringLiteral("weekday_%1").arg(day + 1));
        grid->addWidget(box, 1, day + 1);
        weekdays_.at(static_cast<std::size_t>(day)) = box;
        auto* throws = new QSpinBox;
        throws->setObjectName(QStringLiteral("throws_%1").arg(day + 1));
        throws->setAccessibleName(tr("Throws of a usual game or practice on %1").arg(name));
        throws->setRange(0, 200);
        throws->setSpecialValueText("–");
        throws->setButtonSymbols(QAbstractSpinBox::NoButtons);
        grid->addWidget(throws, 2, day + 1);
        throws_.at(static_cast<std::size_t>(day)) = throws;
    }
    auto* line = new QHBoxLayout;
    minutes_ = new QSpinBox;
    minutes_->setObjectName("homeworkMinutes");
    minutes_->setAccessibleName(tr("Minutes a day"));
    minutes_->setRange(3, 90);
    minutes_->setSuffix(tr(" min a day"));
    line->addWidget(minutes_);
    field_ = new QCheckBox(tr("can go to a field"));
    field_->setObjectName("homeworkField");
    line->addWidget(field_);
    agreed_ = new QCheckBox(tr("next visit"));
    agreed_->setObjectName("nextVisitAgreed");
    line->addWidget(agreed_);
    next_ = new QDateEdit;
    next_->setObjectName("nextVisit");
    next_->setAccessibleName(tr("Day of the next visit"));
    next_->setCalendarPopup(true);
    next_->setDisplayFormat("d MMM yyyy");
    line->addWidget(next_);
    connect(agreed_, &QCheckBox::toggled, next_, &QWidget::setVisible);
    line->addStretch();
    grid->addLayout(line, 3, 0, 1, daysAWeek + 1);
    equipmentRows_ = new QVBoxLayout;
    equipmentRows_->setContentsMargins(0, 0, 0, 0);
    grid->addLayout(equipmentRows_, 4, 0, 1, daysAWeek + 1);
    plan_ = new QPushButton;
    plan_->setObjectName("planHomework");
    plan_->setProperty("role", "primary");
    connect(plan_, &QPushButton::clicked, this, [this] { plan(); });
    grid->addWidget(plan_, 5, 0, 1, daysAWeek + 1, Qt::AlignLeft);
    return wish;
}

QWidget* HomeworkPanel::makeDays() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    which_ = new QComboBox;
    which_->setObjectName("homeworkOf");
    which_->setAccessibleName(tr("Whose homework"));
    column->addWidget(which_);
    days_ = new QTreeWidget;
    days_->setObjectName("homeworkDays");
    days_->setAccessibleName(tr("Homework by day"));
    days_->setHeaderLabels({tr("Day and drill"), tr("Dose"), tr("Time")});
    days_->header()->setStretchLastSection(false);
    days_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    days_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    days_->setRootIsDecorated(false);
    column->addWidget(days_, 1);
    auto* row = new QHBoxLayout;
    earlier_ = new QPushButton(tr("A day earlier"));
    earlier_->setObjectName("dayEarlier");
    later_ = new QPushButton(tr("A day later"));
    later_->setObjectName("dayLater");
    calendar_ = new QPushButton(tr("Save as calendar…"));
    calendar_->setObjectName("saveCalendar");
    row->addWidget(earlier_);
    row->addWidget(later_);
    row->addStretch();
    row->addWidget(calendar_);
    column->addLayout(row);
    connect(earlier_, &QPushButton::clicked, this, [this] { moveDay(-1); });
    connect(later_, &QPushButton::clicked, this, [this] { moveDay(1); });
    connect(calendar_, &QPushButton::clicked, this, [this] { saveCalendar(); });
    connect(which_, &QComboBox::activated, this, [this] { showDays(); });
    connect(days_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        const bool movable = item != nullptr && shownVisit() == visit_.key();
        earlier_->setEnabled(movable);
        later_->setEnabled(movable);
    });
    connect(days_, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item) {
        const std::string drill = item->data(0, drillRole).toString().toStdString();
        if (filling_ || drill.empty()) {
            return;
        }
        // The edit fills the list anew, which must not happen while it is telling of this change.
        QMetaObject::invokeMethod(
            this,
            [this, visit = shownVisit(), day = dayOf(*item), drill,
             done = item->checkState(0) == Qt::Checked] {
                planEdits_.setDone(visit, day, drill, done);
            },
            Qt::QueuedConnection);
    });
    return box;
}

model::VisitKey HomeworkPanel::shownVisit() const {
    const auto before = visit_.askBack();
    return which_->currentIndex() == 1 && before ? before->visit : visit_.key();
}

void HomeworkPanel::refresh() {
    filling_ = true;
    const model::VisitKey visit = visit_.key();
    const auto stored = library_.planWish(visit);
    const model::PlanWish wish = stored.value_or(coaching::usualWish());
    // What is being chosen and not planned yet stays while other things change.
    if (stored || filledFor_ != visit) {
        showWish(wish);
    }
    if (filledFor_ != visit) {
        showRemarks({});
    }
    filledFor_ = visit;
    showEquipment(wish);
    const bool planned = !library_.homework(visit).empty();
    plan_->setText(planned ? tr("Plan what is ahead anew") : tr("Plan the homework"));
    plan_->setEnabled(!visit_.review().plan.drillIds.empty());
    const int index = which_->currentIndex();
    which_->clear();
    which_->addItem(tr("Homework after this visit"));
    if (const auto before = visit_.askBack()) {
        which_->addItem(tr("Homework from %1, to tick").arg(words::dayText(before->visit.filmed)));
    }
    which_->setCurrentIndex(index == 1 && which_->count() > 1 ? 1 : 0);
    which_->setVisible(which_->count() > 1);
    filling_ = false;
    showDays();
}

void HomeworkPanel::showWish(const model::PlanWish& wish) {
    for (int day = 1; day <= daysAWeek; ++day) {
        const auto at = static_cast<std::size_t>(day - 1);
        weekdays_.at(at)->setChecked(wish.weekdays.contains(day));
        const auto throws = wish.throwsOn.find(day);
        throws_.at(at)->setValue(throws == wish.throwsOn.end() ? 0 : throws->second);
    }
    minutes_->setValue(wish.minutes);
    field_->setChecked(wish.fieldDrills);
    agreed_->setChecked(!wish.nextVisit.empty());
    next_->setVisible(!wish.nextVisit.empty());
    next_->setDate(wish.nextVisit.empty()
                       ? words::dateOf(clock_()).addDays(daysAWeek * coaching::weeksWithoutVisit)
                       : words::dateOf(wish.nextVisit));
}

void HomeworkPanel::showEquipment(const model::PlanWish& wish) {
    clearRows(equipmentRows_);
    const auto things = coaching::equipmentFor(shelf_.drills(), visit_.review().plan.drillIds);
    if (things.empty()) {
        return;
    }
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(tr("Has:")));
    for (const std::string& thing : things) {
        auto* box = new QCheckBox(words::inWords(coaching::nameOfEquipment(thing)));
        box->setObjectName("has_" + text(thing));
        box->setProperty("thing", text(thing));
        box->setChecked(!wish.lacks.contains(thing));
        line->addWidget(box);
    }
    line->addStretch();
    equipmentRows_->addWidget(row);
}

model::PlanWish HomeworkPanel::wished() const {
    model::PlanWish wish;
    for (int day = 1; day <= daysAWeek; ++day) {
        const auto at = static_cast<std::size_t>(day - 1);
        if (weekdays_.at(at)->isChecked()) {
            wish.weekdays.insert(day);
        }
        if (throws_.at(at)->value() > 0) {
            wish.throwsOn[day] = throws_.at(at)->value();
        }
    }
    wish.minutes = minutes_->value();
    wish.fieldDrills = field_->isChecked();
    if (agreed_->isChecked()) {
        wish.nextVisit = words::dayOf(next_->date());
    }
    for (const QCheckBox* box : findChildren<QCheckBox*>()) {
        if (const QVariant thing = box->property("thing"); thing.isValid() && !box->isChecked()) {
            wish.lacks.insert(thing.toString().toStdString());
        }
    }
    const auto stored = library_.planWish(visit_.key());
    if (stored) {
        wish.moved = stored->moved;
    }
    return wish;
}

void HomeworkPanel::plan() {
    std::vector<model::Message> remarks;
    problems_.trying([&] { remarks = planEdits_.planHomework(wished(), tr("Plan the homework")); });
    showRemarks(remarks);
}

void HomeworkPanel::showRemarks(const std::vector<model::Message>& remarks) {
    remarks_->setText(words::inWords(remarks).join("\n"));
    remarks_->setVisible(!remarks.empty());
}

void HomeworkPanel::showDays() {
    filling_ = true;
    const QTreeWidgetItem* current = days_->currentItem();
    const QDate chosen = current == nullptr ? QDate() : current->data(0, dayRole).toDate();
    days_->clear();
    const model::Homework homework = library_.homework(shownVisit());
    QTreeWidgetItem* day = nullptr;
    int minutes = 0;
    for (const model::HomeworkItem& item : homework) {
        if (day == nullptr || dayOf(*day) != item.day) {
            day = new QTreeWidgetItem(days_);
            day->setData(0, dayRole, words::dateOf(item.day));
            day->setText(0,
                         dayName(item.day) + " · " + words::inWords(coaching::nameOf(item.stage)));
            QFont bold = days_->font();
            bold.setBold(true);
            day->setFont(0, bold);
            day->setExpanded(true);
            minutes = 0;
        }
        minutes += item.minutes;
        day->setText(2, tr("%1 min").arg(minutes));
        auto* row = new QTreeWidgetItem(day);
        const auto drill = shelf_.drills().find(item.drillId);
        row->setText(0, drill == shelf_.drills().end() ? text(item.drillId)
                                                       : text(drill->second.name));
        row->setText(1, words::inWords(coaching::doseOf(homework, item, shelf_.drills())));
        row->setToolTip(1, drill == shelf_.drills().end()
                               ? QString()
                               : tr("Step up: %1").arg(text(drill->second.progression)));
        row->setText(2, tr("%1 min").arg(item.minutes));
        row->setData(0, dayRole, words::dateOf(item.day));
        row->setData(0, drillRole, text(item.drillId));
        row->setFlags(row->flags() | Qt::ItemIsUserCheckable);
        row->setCheckState(0, item.doneOn.empty() ? Qt::Unchecked : Qt::Checked);
        if (!item.doneOn.empty()) {
            row->setToolTip(0, tr("ticked on %1").arg(words::dayText(item.doneOn)));
        }
    }
    for (int i = 0; i < days_->topLevelItemCount(); ++i) {
        days_->topLevelItem(i)->setExpanded(true);
        if (days_->topLevelItem(i)->data(0, dayRole).toDate() == chosen) {
            days_->setCurrentItem(days_->topLevelItem(i));
        }
    }
    const bool movable = days_->currentItem() != nullptr && shownVisit() == visit_.key();
    earlier_->setEnabled(movable);
    later_->setEnabled(movable);
    calendar_->setEnabled(!homework.empty());
    filling_ = false;
}

void HomeworkPanel::moveDay(int days) {
    const QTreeWidgetItem* item = days_->currentItem();
    if (item == nullptr) {
        return;
    }
    const model::Day from = dayOf(*item);
    const model::Day to = model::dayAfter(from, days);
    model::PlanWish wish = wished();
    // The day may have been moved before: what counts is where it was proposed.
    model::Day proposed = from;
    for (const auto& [was, is] : wish.moved) {
        if (is == from) {
            proposed = was;
        }
    }
    if (proposed == to) {
        wish.moved.erase(proposed);
    } else {
        wish.moved[proposed] = to;
    }
    std::vector<model::Message> remarks;
    problems_.trying([&] {
        remarks = planEdits_.planHomework(wish, tr("Move homework to %1").arg(dayName(to)));
    });
    showRemarks(remarks);
    for (int i = 0; i < days_->topLevelItemCount(); ++i) {
        if (dayOf(*days_->topLevelItem(i)) == to) {
            days_->setCurrentItem(days_->topLevelItem(i));
        }
    }
}

void HomeworkPanel::saveCalendar() {
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the homework as a calendar"),
        folder + "/" + text(open_.player().name) + ".ics", tr("Calendar (*.ics)"));
    if (file.isEmpty()) {
        return;
    }
    const model::VisitKey visit = shownVisit();
    const auto wish = library_.planWish(visit);
    problems_.trying([&] {
        report::saveWhole(
            file.toStdString(),
            QByteArray::fromStdString(report::homeworkCalendar(
                open_.player().name, open_.pack().name, visit, library_.homework(visit),
                wish ? wish->nextVisit : model::Day(), shelf_.drills(), clock_())));
        emit saved(file);
    });
}

} // namespace kestrel::app
