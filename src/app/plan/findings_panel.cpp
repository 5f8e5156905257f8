#include "app/plan/findings_panel.h"

#include "app/shared/labels.h"
#include "app/shared/not_judged_text.h"
#include "app/shared/verdict_text.h"
#include "report/chain_picture.h"
#include "words/measured.h"
#include "words/words.h"

#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
FindingsPanel::FindingsPanel(desk::OpenClip& open, desk::OpenVisit& visit,
                             desk::PlanEdits& planEdits, QWidget* parent)
    : QWidget(parent), open_(open), visit_(visit), planEdits_(planEdits) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(headingLabel(tr("Strengths to keep")));
    strengths_ = wrappedLabel("strengths");
    column->addWidget(strengths_);
    column->addWidget(headingLabel(tr("What the film shows")));
    provisional_ = wrappedLabel("provisional");
    column->addWidget(provisional_);
    why_ = wrappedLabel("whyFirst");
    column->addWidget(why_);
    notJudged_ = wrappedLabel("notJudged");
    column->addWidget(notJudged_);
    findingRows_ = new QVBoxLayout;
    column->addLayout(findingRows_);
    add_ = new QComboBox;
    add_->setObjectName("addFinding");
    add_->setAccessibleName(tr("Add a fault that you saw"));
    column->addWidget(add_);
    dismissedRows_ = new QVBoxLayout;
    column->addLayout(dismissedRows_);
    connect(add_, &QComboBox::activated, this, [this](int index) {
        const std::string id = add_->itemData(index).toString().toStdString();
        if (!id.empty()) {
            say(id, tr("Add “%1”").arg(nameOf(id)),
                [](model::FindingWord& word) { word.added = true; });
        }
    });
}

QString FindingsPanel::nameOf(const std::string& faultId) const {
    return text(coaching::wordsOf(open_.pack(), visit_.choice(), faultId).name);
}

void FindingsPanel::say(const std::string& faultId, const QString& what,
                        const std::function<void(model::FindingWord&)>& change) {
    model::PlanChoice choice = visit_.choice();
    change(choice.findings[faultId]);
    if (choice.findings[faultId] == model::FindingWord()) {
        choice.findings.erase(faultId);
    }
    planEdits_.setPlanChoice(choice, what);
}

void FindingsPanel::refresh() {
    const model::Findings& findings = visit_.review().findings;
    if (visit_.review().reps == 0) {
        why_->setText(
            tr("Nothing is measured yet. Set the key positions and place the landmarks on "
               "the Bench first."));
    } else if (findings.faults.empty()) {
        why_->setText(tr("The film shows no fault for certain. Keep the strengths."));
    } else {
        why_->setText(words::inWords(findings.whyFirst));
    }
    refreshProvisional();
    refreshNotJudged();
    refreshFindings();
    refreshDismissed();
    refreshAddable();
    QStringList strengths;
    for (const std::string& id : visit_.review().plan.strengthIds) {
        const auto strength =
            std::find_if(findings.strengths.begin(), findings.strengths.end(),
                         [&](const model::Strength& s) { return s.measureId == id; });
        const QString often =
            words::inWords(coaching::howOften(strength->shownIn, strength->readIn));
        strengths << "● " + text(technique::findMeasure(open_.pack(), id)->name) +
                         (often.isEmpty() ? QString() : ", " + often);
    }
    strengths_->setText(strengths.isEmpty() ? tr("None is read for certain yet.")
                                            : strengths.join("\n"));
}

void FindingsPanel::refreshProvisional() {
    const desk::OpenVisit::Reps& reps = visit_.reps();
    const auto count = std::count_if(reps.begin(), reps.end(), [](const auto& judged) {
        return !judged->notJudged && judged->rep.positions.empty();
    });
    provisional_->setVisible(count > 0);
    provisional_->setText(tr("◌ Provisional: nobody has looked yet at what the program found in "
                             "%n rep(s). Check it on the Bench.",
                             nullptr, static_cast<int>(count)));
}

void FindingsPanel::refreshNotJudged() {
    QStringList lines;
    for (const desk::OpenVisit::Reps& reps : {visit_.reps(), visit_.repsBefore()}) {
        for (const auto& rep : reps) {
            if (rep->notJudged) {
                lines << "▲ " + notJudgedText(*rep->notJudged, rep->clip);
            }
        }
    }
    lines.removeDuplicates(); // several reps of one film
    notJudged_->setVisible(!lines.isEmpty());
    notJudged_->setText(lines.join("\n"));
}

QString FindingsPanel::faultText(const model::Fault& fault) const {
    const technique::FaultDefinition& definition =
        *technique::findFault(open_.pack(), fault.faultId);
    QStringList how;
    if (fault.added) {
        how << tr("you saw it");
    } else {
        how << words::confidenceText(fault.confidence);
    }
    const QString often = words::inWords(coaching::howOften(fault.shownIn, fault.readIn));
    if (!often.isEmpty() && !fault.added) {
        how << often;
    }
    QString html = "<b>" + nameOf(fault.faultId).toHtmlEscaped() + "</b> (" + how.join(", ") + ")";
    QStringList signs;
    for (const model::Reading& reading : fault.evidence) {
        const technique::Position* at = technique::findPosition(open_.pack(), reading.positionId);
        signs << tr("%1: %2 %3, good is %4")
                     .arg(at == nullptr ? text(reading.positionId) : text(at->name),
                          text(technique::findMeasure(open_.pack(), reading.measureId)->name),
                          words::valueWithUncertainty(reading),
                          words::rangeText(*reading.range, reading.unit));
    }
    for (const std::string& id : fault.denials) {
        signs << tr("you answered no: %1")
                     .arg(text(technique::findObservation(open_.pack(), id)->question));
    }
    if (!signs.isEmpty()) {
        html += "<br>" + signs.join("; ").toHtmlEscaped();
    }
    if (!definition.school.empty()) {
        html += "<br>" + tr("A fault in this school: %1")
                             .arg(text(technique::findSchool(open_.pack(), definition.school)->name)
                                      .toHtmlEscaped());
    }
    if (!definition.caution.empty()) {
        html += "<br>▲ " + text(definition.caution).toHtmlEscaped();
    }
    return html;
}

QWidget* FindingsPanel::faultCard(const model::Fault& fault, bool claimed) {
    auto* card = new QFrame;
    card->setProperty("role", "card");
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(8, 6, 8, 6);
    auto* label = new QLabel(QString::fromUtf8(report::verdictSign(
                                 claimed ? model::Verdict::outside : model::Verdict::edge)) +
                             " " + faultText(fault));
    label->setObjectName("fault_" + text(fault.faultId));
    label->setTextFormat(Qt::RichText);
    label->setWordWrap(true);
    column->addWidget(label);

    const auto names = [this](const std::vector<std::string>& ids) {
        QStringList list;
        for (const std::string& id : ids) {
            list << nameOf(id);
        }
        return list;
    };
    const report::Chain chain{names(fault.comesFrom), nameOf(fault.faultId), names(fault.leadsTo)};
    constexpr int chainWidth = 440;
    const double scale = devicePixelRatioF();
    QImage image = report::chainPicture(chain, static_cast<int>(chainWidth * scale),
                                        fontMetrics().height() * 0.7 * scale);
    if (!image.isNull()) {
        image.setDevicePixelRatio(scale);
        auto* picture = new QLabel;
        picture->setObjectName("chain_" + text(fault.faultId));
        picture->setPixmap(QPixmap::fromImage(image));
        picture->setAccessibleName(
            tr("Can come from: %1. Can lead to: %2.")
                .arg(chain.from.isEmpty() ? tr("nothing seen here") : chain.from.join(", "),
                     chain.to.isEmpty() ? tr("nothing seen here") : chain.to.join(", ")));
        picture->setToolTip(picture->accessibleName());
        column->addWidget(picture);
    }

    column->addLayout(makeFaultButtons(fault));
    return card;
}

QLayout* FindingsPanel::makeFaultButtons(const model::Fault& fault) {
    const std::string id = fault.faultId;
    auto* buttons = new QHBoxLayout;
    const auto& reps = visit_.review().repsOf;
    if (!fault.evidence.empty()) {
        auto* see = smallButton(tr("See"), "see_" + text(id), tr("Show it on the frame"));
        const QString position = text(fault.evidence.front().positionId);
        const auto shownIn = reps.find(id);
        model::RepId rep = open_.rep().id;
        if (shownIn != reps.end() && std::find(shownIn->second.begin(), shownIn->second.end(),
                                               rep) == shownIn->second.end()) {
            rep = shownIn->second.front(); // the open rep does not show it
        }
        connect(see, &QToolButton::clicked, this,
                [this, rep, position] { emit showPosition(rep, position); });
        buttons->addWidget(see);
    }
    auto* pin =
        smallButton(tr("Put first"), "pin_" + text(id), tr("Let this stand before the others"));
    pin->setCheckable(true);
    pin->setChecked(fault.pinned);
    connect(pin, &QToolButton::clicked, this, [this, id](bool on) {
        say(id,
            on ? tr("Put “%1” first").arg(nameOf(id)) : tr("Do not put “%1” first").arg(nameOf(id)),
            [on](model::FindingWord& word) { word.pinned = on; });
    });
    buttons->addWidget(pin);
    auto* words = smallButton(tr("Reword…"), "reword_" + text(id), tr("Say it in your own words"));
    connect(words, &QToolButton::clicked, this, [this, id] { askForWords(id); });
    buttons->addWidget(words);
    if (fault.added) {
        auto* remove =
            smallButton(tr("Take away"), "takeAway_" + text(id), tr("You did not see it"));
        connect(remove, &QToolButton::clicked, this, [this, id] {
            say(id, tr("Take away “%1”").arg(nameOf(id)),
                [](model::FindingWord& word) { word = {}; });
        });
        buttons->addWidget(remove);
    } else {
        auto* dismiss = smallButton(tr("Dismiss…"), "dismiss_" + text(id),
                                    tr("Do not let it count; it stays in the record"));
        connect(dismiss, &QToolButton::clicked, this, [this, id] { askWhyDismissed(id); });
        buttons->addWidget(dismiss);
    }
    buttons->addStretch();
    return buttons;
}

void FindingsPanel::refreshFindings() {
    clearRows(findingRows_);
    for (const model::Fault& fault : visit_.review().findings.faults) {
        findingRows_->addWidget(faultCard(fault, true));
    }
    for (const model::Fault& fault : visit_.review().findings.watch) {
        findingRows_->addWidget(faultCard(fault, false));
    }
}

void FindingsPanel::refreshDismissed() {
    clearRows(dismissedRows_);
    const model::PlanChoice choice = visit_.choice();
    if (!visit_.review().dismissed.empty()) {
        dismissedRows_->addWidget(headingLabel(tr("Dismissed by you")));
    }
    for (const model::Fault& fault : visit_.review().dismissed) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* label = wrappedLabel("");
        label->setObjectName("dismissed_" + text(fault.faultId));
        const std::string& reason = choice.findings.at(fault.faultId).reason;
        label->setText(reason.empty() ? nameOf(fault.faultId)
                                      : tr("%1: %2").arg(nameOf(fault.faultId), text(reason)));
        line->addWidget(label, 1);
        auto* back = smallButton(tr("Let it count"), "undismiss_" + text(fault.faultId),
                                 tr("Let it count again"));
        const std::string id = fault.faultId;
        connect(back, &QToolButton::clicked, this, [this, id] {
            say(id, tr("Let “%1” count").arg(nameOf(id)), [](model::FindingWord& word) {
                word.dismissed = false;
                word.reason.clear();
            });
        });
        line->addWidget(back, 0, Qt::AlignTop);
        dismissedRows_->addWidget(row);
    }
}

void FindingsPanel::refreshAddable() {
    add_->clear();
    add_->addItem(tr("Add a fault that you saw…"), QString());
    const auto& findings = visit_.review().findings;
    for (const technique::FaultDefinition& fault : open_.pack().faults) {
        const auto same = [&](const model::Fault& f) { return f.faultId == fault.id; };
        const auto& dismissed = visit_.review().dismissed;
        if (std::none_of(findings.faults.begin(), findings.faults.end(), same) &&
            std::none_of(dismissed.begin(), dismissed.end(), same)) {
            add_->addItem(nameOf(fault.id), text(fault.id));
        }
    }
}

void FindingsPanel::askWhyDismissed(const std::string& faultId) {
    bool sure = false;
    const QString reason =
        QInputDialog::getText(this, tr("Dismiss “%1”").arg(nameOf(faultId)),
                              tr("Why does it not count? It stays in the record with this reason."),
                              QLineEdit::Normal, {}, &sure);
    if (sure) {
        say(faultId, tr("Dismiss “%1”").arg(nameOf(faultId)), [&](model::FindingWord& word) {
            word.dismissed = true;
            word.pinned = false;
            word.reason = reason.trimmed().toStdString();
        });
    }
}

void FindingsPanel::askForWords(const std::string& faultId) {
    QDialog dialog(this);
    dialog.setObjectName("rewordDialog");
    dialog.setWindowTitle(tr("In your words"));
    auto* form = new QFormLayout(&dialog);
    const coaching::FaultWords words = coaching::wordsOf(open_.pack(), visit_.choice(), faultId);
    auto* name = new QLineEdit(text(words.name));
    name->setObjectName("rewordName");
    form->addRow(tr("Name"), name);
    auto* meaning = new QPlainTextEdit(text(words.meaning));
    meaning->setObjectName("rewordMeaning");
    meaning->setTabChangesFocus(true);
    form->addRow(tr("What it does"), meaning);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel |
                                         QDialogButtonBox::RestoreDefaults);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    const technique::FaultDefinition& shipped = *technique::findFault(open_.pack(), faultId);
    connect(buttons->button(QDialogButtonBox::RestoreDefaults), &QPushButton::clicked, &dialog,
            [&] {
                name->setText(text(shipped.name));
                meaning->setPlainText(text(shipped.meaning));
            });
    if (dialog.exec() != QDialog::Accepted) {
        return;
    }
    const std::string newName = name->text().trimmed().toStdString();
    const std::string newMeaning = meaning->toPlainText().trimmed().toStdString();
    say(faultId, tr("Reword “%1”").arg(text(shipped.name)), [&](model::FindingWord& word) {
        word.name = newName == shipped.name ? std::string() : newName;
        word.meaning = newMeaning == shipped.meaning ? std::string() : newMeaning;
    });
}

} // namespace kestrel::app
