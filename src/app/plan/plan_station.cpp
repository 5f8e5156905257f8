#include "app/plan/plan_station.h"

#include "app/background.h"
#include "app/shared/verdict_text.h"
#include "model/input_error.h"
#include "report/film_images.h"
#include "report/take_home_files.h"
#include "report/take_home_html.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStandardPaths>
#include <QTextBrowser>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

QLabel* wrapped(const char* name) {
    auto* label = new QLabel;
    label->setObjectName(name);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

QLabel* subheading(const QString& words) {
    auto* label = new QLabel(words);
    label->setProperty("role", "heading");
    return label;
}

void clear(QVBoxLayout* rows) {
    while (QLayoutItem* old = rows->takeAt(0)) {
        if (old->widget() != nullptr) {
            old->widget()->hide();
            old->widget()->deleteLater();
        }
        delete old;
    }
}

} // namespace

PlanStation::PlanStation(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("planStation");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 10);
    row->setSpacing(14);
    row->addWidget(makeChoices(), 5);
    row->addWidget(makeSheet(), 6);
    connect(&session_, &Session::clipOpened, this, [this] { refresh(); });
    connect(&session_, &Session::clipClosed, this, [this] { refresh(); });
    connect(&session_, &Session::marksChanged, this, [this] { refresh(); });
    constexpr int pauseMs = 600; // typing has paused: keep the note
    noteTimer_.setSingleShot(true);
    noteTimer_.setInterval(pauseMs);
    connect(&noteTimer_, &QTimer::timeout, this, [this] { keepNote(); });
    refresh();
}

QWidget* PlanStation::makeChoices() {
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, 10, 0);
    heading_ = new QLabel;
    heading_->setObjectName("planHeading");
    heading_->setProperty("role", "title");
    heading_->setWordWrap(true);
    column->addWidget(heading_);
    why_ = wrapped("whyFirst");
    column->addWidget(why_);
    column->addWidget(subheading(tr("One focus")));
    focus_ = new QComboBox;
    focus_->setObjectName("focus");
    focus_->setAccessibleName(tr("Focus"));
    column->addWidget(focus_);
    cues_ = wrapped("cues");
    column->addWidget(cues_);
    column->addWidget(subheading(tr("Drills to take home")));
    drills_ = new QWidget;
    drillRows_ = new QVBoxLayout(drills_);
    drillRows_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(drills_);
    column->addWidget(subheading(tr("What the film shows")));
    auto* findings = new QWidget;
    findingRows_ = new QVBoxLayout(findings);
    findingRows_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(findings);
    column->addWidget(subheading(tr("Strengths to keep")));
    strengths_ = wrapped("strengths");
    column->addWidget(strengths_);
    column->addWidget(subheading(tr("A note from you")));
    note_ = new QPlainTextEdit;
    note_->setObjectName("note");
    note_->setAccessibleName(tr("A note from you, printed on the sheet"));
    note_->setTabChangesFocus(true);
    note_->setFixedHeight(4 * fontMetrics().lineSpacing());
    column->addWidget(note_);
    column->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);

    connect(focus_, &QComboBox::activated, this, [this] {
        if (filling_ || !session_.hasClip()) {
            return;
        }
        model::PlanChoice choice = session_.library().planChoice(session_.rep().id);
        choice.focusFaultId = focus_->currentData().toString().toStdString();
        choice.drillIds.clear(); // the drills belong to the focus
        session_.setPlanChoice(choice, tr("Choose the focus"));
    });
    connect(note_, &QPlainTextEdit::textChanged, this, [this] {
        if (!filling_) {
            noteTimer_.start();
        }
    });
    return scroll;
}

QWidget* PlanStation::makeSheet() {
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    auto* top = new QHBoxLayout;
    top->addWidget(subheading(tr("Take-home sheet")));
    state_ = new QLabel;
    state_->setObjectName("sheetState");
    top->addWidget(state_, 1);
    saveHtml_ = new QPushButton(tr("Save as web page…"));
    saveHtml_->setObjectName("saveHtml");
    savePdf_ = new QPushButton(tr("Save as PDF…"));
    savePdf_->setObjectName("savePdf");
    savePdf_->setProperty("role", "primary");
    top->addWidget(saveHtml_);
    top->addWidget(savePdf_);
    column->addLayout(top);
    preview_ = new QTextBrowser;
    preview_->setObjectName("sheet");
    preview_->setAccessibleName(tr("Preview of the take-home sheet"));
    preview_->setOpenLinks(false);
    preview_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(preview_, 1);
    connect(saveHtml_, &QPushButton::clicked, this, [this] { save(Format::html); });
    connect(savePdf_, &QPushButton::clicked, this, [this] { save(Format::pdf); });
    return side;
}

void PlanStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        refresh();
    }
}

void PlanStation::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    if (noteTimer_.isActive()) { // leaving the station is a pause too, and another clip may follow
        noteTimer_.stop();
        keepNote();
    }
}

QString PlanStation::faultText(const model::Fault& fault) const {
    const technique::FaultDefinition& definition =
        *technique::findFault(session_.pack(), fault.faultId);
    QString html = "<b>" + text(definition.name).toHtmlEscaped() + "</b> (" +
                   QString::fromUtf8(name(fault.confidence).data()) + ")";
    QStringList signs;
    for (const model::Reading& reading : fault.evidence) {
        signs << tr("%1 %2, good is %3")
                     .arg(text(technique::findMeasure(session_.pack(), reading.measureId)->name),
                          text(technique::valueWithUncertainty(reading)),
                          text(technique::rangeText(*reading.range, reading.unit)));
    }
    for (const std::string& id : fault.denials) {
        signs << tr("you answered no: %1")
                     .arg(text(technique::findObservation(session_.pack(), id)->question));
    }
    html += "<br>" + signs.join("; ").toHtmlEscaped();
    const auto names = [this](const std::vector<std::string>& ids) {
        QStringList list;
        for (const std::string& id : ids) {
            list << text(technique::findFault(session_.pack(), id)->name);
        }
        return list.join(", ").toHtmlEscaped();
    };
    if (!fault.comesFrom.empty()) {
        html += "<br>" + tr("← can come from: %1").arg(names(fault.comesFrom));
    }
    if (!fault.leadsTo.empty()) {
        html += "<br>" + tr("→ can lead to: %1").arg(names(fault.leadsTo));
    }
    if (!definition.caution.empty()) {
        html += "<br>▲ " + text(definition.caution).toHtmlEscaped();
    }
    return html;
}

void PlanStation::refresh() {
    stale_ = !isVisible();
    if (stale_) {
        return;
    }
    const bool open = session_.hasClip();
    for (QWidget* w : {static_cast<QWidget*>(focus_), static_cast<QWidget*>(note_),
                       static_cast<QWidget*>(saveHtml_), static_cast<QWidget*>(savePdf_)}) {
        w->setEnabled(open);
    }
    if (!open) {
        heading_->setText(tr("No clip is open"));
        why_->setText(tr("Open a clip on the Squad station and mark it on the Bench; the findings "
                         "and the plan appear here by themselves."));
        sheet_.reset();
        preview_->clear();
        clear(drillRows_);
        clear(findingRows_);
        cues_->clear();
        strengths_->clear();
        return;
    }
    filling_ = true;
    const model::Findings& findings = session_.review().findings;
    heading_->setText(tr("%1: plan").arg(text(session_.player().name)));
    const bool anything =
        std::any_of(session_.review().readings.begin(), session_.review().readings.end(),
                    [](const model::Reading& r) { return r.value.has_value(); });
    if (!anything) {
        why_->setText(
            tr("Nothing is measured yet. Set the key positions and place the landmarks on "
               "the Bench first."));
    } else if (findings.faults.empty()) {
        why_->setText(tr("The film shows no fault for certain. Keep the strengths."));
    } else {
        why_->setText(text(findings.whyFirst));
    }
    focus_->clear();
    for (const model::Fault& fault : findings.faults) {
        const QString name = text(technique::findFault(session_.pack(), fault.faultId)->name);
        focus_->addItem(focus_->count() == 0 ? tr("%1 (proposed)").arg(name) : name,
                        text(fault.faultId));
    }
    focus_->setCurrentIndex(focus_->findData(text(session_.review().plan.focusFaultId)));
    focus_->setEnabled(!findings.faults.empty());
    QStringList cues;
    for (const std::string& cue : session_.review().plan.cueTexts) {
        cues << "“" + text(cue) + "”";
    }
    cues_->setText(cues.join("\n"));
    refreshDrills();
    refreshFindings();
    const QString note = text(session_.library().planChoice(session_.rep().id).note);
    if (!noteTimer_.isActive() && note_->toPlainText() != note) {
        note_->setPlainText(note);
    }
    filling_ = false;
    buildSheet();
}

void PlanStation::refreshDrills() {
    clear(drillRows_);
    const model::Plan& plan = session_.review().plan;
    if (plan.focusFaultId.empty()) {
        return;
    }
    for (const std::string& id : technique::findFault(session_.pack(), plan.focusFaultId)->drills) {
        const coaching::Drill& drill = session_.drills().at(id);
        auto* box = new QCheckBox(
            tr("%1 · %2 · %3 min · %4")
                .arg(text(drill.name),
                     text(coaching::doseFor(drill, session_.circumstances().ageYears)))
                .arg(drill.minutes)
                .arg(text(coaching::placeText(drill.place))));
        box->setObjectName("drill_" + text(id));
        box->setToolTip(text(drill.setUp));
        box->setChecked(std::find(plan.drillIds.begin(), plan.drillIds.end(), id) !=
                        plan.drillIds.end());
        connect(box, &QCheckBox::clicked, this, [this, id](bool on) {
            model::PlanChoice choice = session_.library().planChoice(session_.rep().id);
            std::vector<std::string> drills = session_.review().plan.drillIds;
            std::erase(drills, id);
            if (on) {
                drills.push_back(id);
            }
            if (drills.empty()) {
                refresh(); // a focus without a drill is no plan: the last one stays
                return;
            }
            choice.drillIds = drills;
            session_.setPlanChoice(choice, on ? tr("Add a drill") : tr("Leave out a drill"));
        });
        drillRows_->addWidget(box);
    }
}

void PlanStation::refreshFindings() {
    clear(findingRows_);
    const model::Findings& findings = session_.review().findings;
    const auto add = [&](const model::Fault& fault, const QString& sign) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* label = new QLabel(sign + " " + faultText(fault));
        label->setObjectName("fault_" + text(fault.faultId));
        label->setTextFormat(Qt::RichText);
        label->setWordWrap(true);
        line->addWidget(label, 1);
        if (!fault.evidence.empty()) {
            auto* see = new QToolButton;
            see->setText(tr("See"));
            see->setObjectName("see_" + text(fault.faultId));
            see->setToolTip(tr("Show it on the frame"));
            const QString position = text(fault.evidence.front().positionId);
            connect(see, &QToolButton::clicked, this,
                    [this, position] { emit showPosition(position); });
            line->addWidget(see, 0, Qt::AlignTop);
        }
        findingRows_->addWidget(row);
    };
    for (const model::Fault& fault : findings.faults) {
        add(fault, QString::fromUtf8(report::verdictSign(model::Verdict::outside)));
    }
    for (const model::Fault& fault : findings.watch) {
        add(fault, QString::fromUtf8(report::verdictSign(model::Verdict::edge)));
    }
    QStringList strengths;
    for (const std::string& id : session_.review().plan.strengthIds) {
        strengths << "● " + text(technique::findMeasure(session_.pack(), id)->name);
    }
    strengths_->setText(strengths.isEmpty() ? tr("None is read for certain yet.")
                                            : strengths.join("\n"));
}

void PlanStation::buildSheet() {
    state_->setText(tr("making the sheet…"));
    saveHtml_->setEnabled(false);
    savePdf_->setEnabled(false);
    const int number = ++building_;
    const QString note = text(session_.library().planChoice(session_.rep().id).note);
    inBackground(
        this,
        [pack = session_.pack(), drills = session_.drills(), player = session_.player(),
         clip = session_.clip(), rep = session_.rep(), circumstances = session_.circumstances(),
         review = session_.review(), index = session_.index(), note] {
            return std::make_shared<const report::TakeHome>(
                report::takeHomeOf(pack, drills, player, clip, rep, circumstances, review, note,
                                   report::filmImages(index)));
        },
        [this, number](const std::shared_ptr<const report::TakeHome>& sheet) {
            if (number != building_) {
                return; // something changed meanwhile; the newer one is on its way
            }
            sheet_ = sheet;
            showSheet();
        },
        [this, number](const std::exception_ptr& error) {
            if (number != building_) {
                return;
            }
            try {
                std::rethrow_exception(error);
            } catch (const std::exception& e) {
                state_->setText(tr("The sheet could not be made: %1").arg(e.what()));
            }
        });
}

void PlanStation::showSheet() {
    const auto address = [](std::size_t n) { return QStringLiteral("picture:%1").arg(n); };
    preview_->clear();
    for (std::size_t n = 0; n < sheet_->pictures.size(); ++n) {
        preview_->document()->addResource(QTextDocument::ImageResource, QUrl(address(n)),
                                          sheet_->pictures[n].image);
    }
    preview_->setHtml(report::takeHomeHtml(*sheet_, address));
    state_->clear();
    saveHtml_->setEnabled(true);
    savePdf_->setEnabled(true);
}

void PlanStation::save(Format format) {
    if (session_.player().consentGiven.empty()) {
        const auto answer =
            QMessageBox::question(this, tr("No consent"),
                                  tr("There is no consent to film for %1. The sheet shows pictures "
                                     "of the player. Save it "
                                     "all the same?")
                                      .arg(text(session_.player().name)),
                                  QMessageBox::Save | QMessageBox::Cancel, QMessageBox::Cancel);
        if (answer != QMessageBox::Save) {
            return;
        }
    }
    const QString ending = format == Format::html ? "html" : "pdf";
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the take-home sheet"),
        folder + "/" + text(session_.player().name) + "." + ending,
        format == Format::html ? tr("Web page (*.html)") : tr("PDF (*.pdf)"));
    if (file.isEmpty()) {
        return;
    }
    state_->setText(tr("saving…"));
    const std::filesystem::path path = file.toStdString();
    inBackground(
        this,
        [sheet = sheet_, path, format] {
            format == Format::html ? report::writeHtml(*sheet, path)
                                   : report::writePdf(*sheet, path);
            return true;
        },
        [this, file](bool) {
            state_->setText(tr("saved as %1").arg(file));
            emit saved(file);
        },
        [this](const std::exception_ptr& error) {
            state_->clear();
            try {
                std::rethrow_exception(error);
            } catch (const model::InputError& e) {
                emit session_.problem(text(e.happened()), text(e.safe()), text(e.todo()));
            } catch (const std::exception& e) {
                emit session_.problem(tr("The sheet could not be saved (%1).").arg(e.what()),
                                      tr("Everything in the library is safe."), tr("Try again."));
            }
        });
}

void PlanStation::keepNote() {
    if (!session_.hasClip()) {
        return;
    }
    model::PlanChoice choice = session_.library().planChoice(session_.rep().id);
    choice.note = note_->toPlainText().trimmed().toStdString();
    session_.setPlanChoice(choice, tr("Change the note"));
}

} // namespace kestrel::app
