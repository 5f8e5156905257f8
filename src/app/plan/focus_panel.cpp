#include "app/plan/focus_panel.h"

#include "app/plan/drill_dialog.h"
#include "app/shared/labels.h"
#include "words/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {

FocusPanel::FocusPanel(desk::Shelf& shelf, desk::OpenClip& open, desk::OpenVisit& visit,
                       desk::PlanEdits& planEdits, QWidget* parent)
    : QWidget(parent), shelf_(shelf), open_(open), visit_(visit), planEdits_(planEdits) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headingLabel(tr("One focus")));
    focus_ = new QComboBox;
    focus_->setObjectName("focus");
    focus_->setAccessibleName(tr("Focus"));
    column->addWidget(focus_);
    cues_ = wrappedLabel("cues");
    column->addWidget(cues_);
    column->addWidget(headingLabel(tr("Drills to take home")));
    drillRows_ = new QVBoxLayout;
    column->addLayout(drillRows_);
    auto* more = new QPushButton(tr("Look for other drills…"));
    more->setObjectName("moreDrills");
    column->addWidget(more, 0, Qt::AlignLeft);
    column->addWidget(headingLabel(tr("A note from you")));
    note_ = new QPlainTextEdit;
    note_->setObjectName("note");
    note_->setAccessibleName(tr("A note from you, printed on the sheet"));
    note_->setTabChangesFocus(true);
    note_->setFixedHeight(3 * fontMetrics().lineSpacing());
    column->addWidget(note_);

    connect(focus_, &QComboBox::activated, this, [this] {
        if (filling_) {
            return;
        }
        model::PlanChoice choice = visit_.choice();
        choice.focusFaultId = focus_->currentData().toString().toStdString();
        choice.drillIds.clear(); // the drills belong to the focus
        planEdits_.setPlanChoice(choice, tr("Choose the focus"));
    });
    connect(more, &QPushButton::clicked, this, [this] { chooseDrills(); });
    constexpr int pauseMs = 600; // typing has paused: keep the note
    noteTimer_.setSingleShot(true);
    noteTimer_.setInterval(pauseMs);
    connect(&noteTimer_, &QTimer::timeout, this, [this] { keepNote(); });
    connect(note_, &QPlainTextEdit::textChanged, this, [this] {
        if (!filling_) {
            noteTimer_.start();
        }
    });
}

void FocusPanel::refresh() {
    filling_ = true;
    const coaching::VisitReview& visit = visit_.review();
    const model::PlanChoice choice = visit_.choice();
    focus_->clear();
    for (const model::Fault& fault : visit.findings.faults) {
        const QString name = text(coaching::wordsOf(open_.pack(), choice, fault.faultId).name);
        focus_->addItem(focus_->count() == 0 ? tr("%1 (proposed)").arg(name) : name,
                        text(fault.faultId));
    }
    focus_->setCurrentIndex(focus_->findData(text(visit.plan.focusFaultId)));
    focus_->setEnabled(!visit.findings.faults.empty());
    QStringList cues;
    for (const std::string& cue : visit.plan.cueTexts) {
        cues << "“" + text(cue) + "”";
    }
    cues_->setText(cues.join("\n"));
    refreshDrills();
    const QString note = text(choice.note);
    if (!noteTimer_.isActive() && note_->toPlainText() != note) {
        note_->setPlainText(note);
    }
    filling_ = false;
}

void FocusPanel::refreshDrills() {
    clearRows(drillRows_);
    const model::Plan& plan = visit_.review().plan;
    if (plan.focusFaultId.empty()) {
        return;
    }
    // The focus's own drills, then what the coach added from the library.
    std::vector<std::string> offered =
        technique::findFault(open_.pack(), plan.focusFaultId)->drills;
    for (const std::string& id : plan.drillIds) {
        if (std::find(offered.begin(), offered.end(), id) == offered.end()) {
            offered.push_back(id);
        }
    }
    for (const std::string& id : offered) {
        const auto found = shelf_.drills().find(id);
        if (found == shelf_.drills().end()) {
            continue;
        }
        const coaching::Drill& drill = found->second;
        auto* box = new QCheckBox(
            tr("%1 · %2 · %3 min · %4")
                .arg(text(drill.name), text(coaching::doseFor(drill, visit_.doseAge())))
                .arg(drill.minutes)
                .arg(words::inWords(coaching::nameOf(drill.place))));
        box->setObjectName("drill_" + text(id));
        box->setToolTip(text(drill.setUp));
        box->setChecked(std::find(plan.drillIds.begin(), plan.drillIds.end(), id) !=
                        plan.drillIds.end());
        connect(box, &QCheckBox::clicked, this, [this, id](bool on) {
            model::PlanChoice choice = visit_.choice();
            std::vector<std::string> drills = visit_.review().plan.drillIds;
            std::erase(drills, id);
            if (on) {
                drills.push_back(id);
            }
            if (drills.empty()) {
                refresh(); // a focus without a drill is no plan: the last one stays
                return;
            }
            choice.drillIds = drills;
            planEdits_.setPlanChoice(choice, on ? tr("Add a drill") : tr("Leave out a drill"));
        });
        drillRows_->addWidget(box);
    }
}

void FocusPanel::chooseDrills() {
    DrillDialog dialog(shelf_, open_, this);
    if (dialog.exec() != QDialog::Accepted || dialog.chosen().empty()) {
        return;
    }
    std::vector<std::string> drills = visit_.review().plan.drillIds;
    for (const std::string& id : dialog.chosen()) {
        if (std::find(drills.begin(), drills.end(), id) == drills.end()) {
            drills.push_back(id);
        }
    }
    model::PlanChoice choice = visit_.choice();
    choice.drillIds = drills;
    planEdits_.setPlanChoice(choice, tr("Add a drill"));
}

void FocusPanel::finishNote() {
    if (noteTimer_.isActive()) {
        noteTimer_.stop();
        keepNote();
    }
}

void FocusPanel::keepNote() {
    if (!open_.hasClip()) {
        return;
    }
    model::PlanChoice choice = visit_.choice();
    choice.note = note_->toPlainText().trimmed().toStdString();
    planEdits_.setPlanChoice(choice, tr("Change the note"));
}

} // namespace kestrel::app
