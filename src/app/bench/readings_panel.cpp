#include "app/bench/readings_panel.h"

#include "app/bench/school_dialog.h"
#include "app/shared/text.h"
#include "app/shared/verdict_text.h"
#include "desk/editions.h"
#include "technique/kinds/heading.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"
#include "words/keys.h"
#include "words/measured.h"
#include "words/words.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

/// The reason in a few words for the list; the full sentence stands below when it is chosen.
QString shortReason(model::MissingReason::Kind kind) {
    using Kind = model::MissingReason::Kind;
    switch (kind) {
    case Kind::invalidView:
        return ReadingsPanel::tr("shows from another view");
    case Kind::oneFilm:
        return ReadingsPanel::tr("needs a second film");
    case Kind::viewUnknown:
        return ReadingsPanel::tr("view not said yet");
    case Kind::positionNotSet:
        return ReadingsPanel::tr("position not set yet");
    case Kind::landmarkNotPlaced:
        return ReadingsPanel::tr("landmark not placed yet");
    case Kind::landmarkHidden:
        return ReadingsPanel::tr("landmark hidden");
    case Kind::noBodyHeight:
        return ReadingsPanel::tr("needs the player's height");
    case Kind::captureRateUnknown:
        return ReadingsPanel::tr("capture rate not said yet");
    case Kind::foreshortened:
        return ReadingsPanel::tr("points along the view");
    case Kind::groundUnknown:
        return ReadingsPanel::tr("ground not marked");
    case Kind::notCounted:
        return ReadingsPanel::tr("not counted yet");
    case Kind::tooFewFrames:
        return ReadingsPanel::tr("the film does not show it");
    case Kind::notLookedAt:
        return ReadingsPanel::tr("look at its landmarks first");
    case Kind::degenerate:
        return ReadingsPanel::tr("points on one spot");
    }
    return {};
}

enum Column { measureColumn, valueColumn, verdictColumn };

} // namespace

ReadingsPanel::ReadingsPanel(desk::Shelf& shelf, desk::OpenClip& open, desk::RepEdits& repEdits,
                             desk::ClipEdits& clipEdits, QWidget* parent)
    : QWidget(parent), shelf_(shelf), open_(open), repEdits_(repEdits), clipEdits_(clipEdits) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    addTop(*column);
    auto* editionRow = new QHBoxLayout;
    edition_ = new QLabel;
    edition_->setObjectName("packEdition");
    edition_->setWordWrap(true);
    editionRow->addWidget(edition_, 1);
    judgeAnew_ = new QPushButton(tr("Judge anew"));
    judgeAnew_->setObjectName("judgeAnew");
    judgeAnew_->setFocusPolicy(Qt::NoFocus);
    connect(judgeAnew_, &QPushButton::clicked, this, [this] { clipEdits_.takeNewerEdition(); });
    editionRow->addWidget(judgeAnew_);
    column->addLayout(editionRow);

    addReadings(*column);
    depth_ = new QPushButton;
    depth_->setObjectName("swapDepth");
    depth_->setFocusPolicy(Qt::NoFocus);
    depth_->setToolTip(
        tr("A line or a limb looks the same turned either way; this says which way it is"));
    depth_->hide();
    connect(depth_, &QPushButton::clicked, this, &ReadingsPanel::swapDepth);
    column->addWidget(depth_);

    observations_ = new QWidget;
    observationRows_ = new QVBoxLayout(observations_);
    observationRows_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(observations_);

    connect(all_, &QCheckBox::toggled, this, [this] { refresh(); });
    connect(tree_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item) {
        const std::string id = item->data(measureColumn, Qt::UserRole).toString().toStdString();
        chosen_ = chosen_ == id ? std::string() : id;
        if (chosen_.empty()) {
            tree_->clearSelection();
        }
        showChosen();
    });
    connect(&open_, &desk::OpenClip::opened, this, [this] {
        chosen_.clear();
        setPosition(open_.pack().positions.front().id);
    });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
}

void ReadingsPanel::addTop(QVBoxLayout& column) {
    auto* top = new QHBoxLayout;
    auto* heading = new QLabel(tr("Readings"));
    heading->setProperty("role", "heading");
    top->addWidget(heading);
    top->addStretch();
    schools_ = new QPushButton(tr("Schools…"));
    schools_->setObjectName("schoolsButton");
    schools_->setFocusPolicy(Qt::NoFocus);
    schools_->setToolTip(tr("What coaches answer differently, and what that changes here"));
    connect(schools_, &QPushButton::clicked, this, &ReadingsPanel::askForSchools);
    top->addWidget(schools_);
    curves_ = new QPushButton(tr("Curves"));
    curves_->setObjectName("curvesButton");
    curves_->setCheckable(true);
    curves_->setFocusPolicy(Qt::NoFocus);
    curves_->setToolTip(tr("How fast each part moves, and how a reading runs through the film (%1)")
                            .arg(words::keyName(words::Action::curves)));
    connect(curves_, &QPushButton::toggled, this, &ReadingsPanel::curvesWanted);
    top->addWidget(curves_);
    body_ = new QPushButton(tr("Body"));
    body_->setObjectName("bodyButton");
    body_->setCheckable(true);
    body_->setFocusPolicy(Qt::NoFocus);
    body_->setToolTip(
        tr("The body in space beside the film (%1)").arg(words::keyName(words::Action::body)));
    connect(body_, &QPushButton::toggled, this, &ReadingsPanel::bodyWanted);
    top->addWidget(body_);
    all_ = new QCheckBox(tr("all positions"));
    all_->setObjectName("allReadings");
    all_->setFocusPolicy(Qt::NoFocus);
    top->addWidget(all_);
    column.addLayout(top);
}

void ReadingsPanel::addReadings(QVBoxLayout& column) {
    tree_ = new QTreeWidget;
    tree_->setObjectName("readings");
    tree_->setAccessibleName(tr("Readings"));
    tree_->setRootIsDecorated(false);
    tree_->setUniformRowHeights(false);
    tree_->setTextElideMode(Qt::ElideRight);
    tree_->setFocusPolicy(Qt::NoFocus);
    tree_->setHeaderLabels({tr("Measure and what is good"), tr("Reading"), tr("Verdict")});
    tree_->header()->setSectionResizeMode(measureColumn, QHeaderView::Stretch);
    for (const int c : {valueColumn, verdictColumn}) {
        tree_->header()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    }
    tree_->header()->setStretchLastSection(false);
    column.addWidget(tree_, 1);

    how_ = new QLabel;
    how_->setObjectName("howMade");
    how_->setWordWrap(true);
    how_->setTextFormat(Qt::RichText);
    how_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    howArea_ = new QScrollArea;
    howArea_->setWidget(how_);
    howArea_->setWidgetResizable(true);
    howArea_->setFrameShape(QFrame::NoFrame);
    howArea_->setFocusPolicy(Qt::NoFocus);
    column.addWidget(howArea_);
}

void ReadingsPanel::answer(model::Seen seen) {
    const technique::Observation* asked = nullptr;
    for (const technique::Observation& observation : open_.pack().observations) {
        if (observation.at == position_) {
            asked = &observation;
            if (!open_.rep().observations.contains(observation.id)) {
                break;
            }
        }
    }
    if (asked != nullptr) {
        repEdits_.setObservation(asked->id, seen);
    }
}

void ReadingsPanel::toggleCurves() {
    curves_->toggle();
}

void ReadingsPanel::setBody(bool wanted) {
    body_->setChecked(wanted);
}

void ReadingsPanel::setPosition(const std::string& positionId) {
    position_ = positionId;
    chosen_.clear();
    refresh();
}

void ReadingsPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    tree_->clear();
    QTreeWidgetItem* chosenItem = nullptr;
    // What is judged comes first, then what is only told; the reasons follow.
    std::vector<model::Reading> readings = open_.review().readings;
    const auto place = [](const model::Reading& r) { return !r.value ? 2 : r.range ? 0 : 1; };
    std::stable_sort(
        readings.begin(), readings.end(),
        [&](const model::Reading& a, const model::Reading& b) { return place(a) < place(b); });
    for (const model::Reading& reading : readings) {
        if (!all_->isChecked() && reading.positionId != position_) {
            continue;
        }
        const technique::Measure& measure =
            *technique::findMeasure(open_.pack(), reading.measureId);
        QString name = text(measure.name);
        if (all_->isChecked()) {
            name = text(technique::findPosition(open_.pack(), measure.at)->name) + ": " + name;
        }
        QString good = tr("no range");
        if (reading.range) {
            good = tr("good: %1").arg(words::rangeText(*reading.range, reading.unit));
        } else if (reading.missing) {
            good = shortReason(reading.missing->kind);
        }
        auto* item = new QTreeWidgetItem({name + "\n" + good, words::valueWithUncertainty(reading),
                                          verdictText(reading.verdict)});
        item->setData(measureColumn, Qt::UserRole, text(reading.measureId));
        item->setForeground(verdictColumn, report::verdictColour(reading.verdict));
        QFont bold = tree_->font();
        bold.setBold(true);
        item->setFont(verdictColumn, bold);
        if (reading.missing) {
            item->setToolTip(measureColumn, words::inWords(reading.missing->why));
            item->setToolTip(verdictColumn, words::inWords(reading.missing->why));
        }
        tree_->addTopLevelItem(item);
        if (reading.measureId == chosen_) {
            chosenItem = item;
        }
    }
    if (chosenItem != nullptr) {
        tree_->setCurrentItem(chosenItem);
        tree_->scrollToItem(chosenItem);
    }
    rebuildObservations();
    showEdition();
    showChosen();
}

/// Whether the pack was changed since this rep was judged, and what the change would do.
void ReadingsPanel::showEdition() {
    const bool newer = desk::newerEdition(open_, shelf_);
    edition_->setVisible(newer);
    judgeAnew_->setVisible(newer);
    if (!newer) {
        return;
    }
    const auto says =
        coaching::toldChanges(open_.pack(), desk::changesOfNewerEdition(open_, shelf_));
    edition_->setText(says.empty()
                          ? tr("The pack was changed since this rep was judged; nothing here would "
                               "be judged differently.")
                          : tr("The pack was changed since this rep was judged. Judging it anew "
                               "would change %n thing(s), first: %1",
                               nullptr, static_cast<int>(says.size()))
                                .arg(words::inWords(says.front())));
}

void ReadingsPanel::askForSchools() {
    auto* dialog = new SchoolDialog(open_, clipEdits_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->show();
}

void ReadingsPanel::rebuildObservations() {
    while (QLayoutItem* old = observationRows_->takeAt(0)) {
        if (old->widget() != nullptr) {
            old->widget()->hide(); // at once; it is deleted when its own events are done
            old->widget()->deleteLater();
        }
        delete old;
    }
    for (const technique::Observation& observation : open_.pack().observations) {
        if (!all_->isChecked() && observation.at != position_) {
            continue;
        }
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* question = new QLabel(text(observation.question));
        question->setWordWrap(true);
        line->addWidget(question, 1);
        const auto answered = open_.rep().observations.find(observation.id);
        for (const auto& [seen, label] :
             {std::pair{model::Seen::yes, tr("Yes")}, std::pair{model::Seen::no, tr("No")},
              std::pair{model::Seen::notVisible, tr("Not visible")}}) {
            const QString keyed =
                words::keyName(seen == model::Seen::yes  ? words::Action::answerYes
                               : seen == model::Seen::no ? words::Action::answerNo
                                                         : words::Action::answerNotVisible);
            auto* button = new QToolButton;
            button->setObjectName("observe_" + text(observation.id) + "_" +
                                  QString::fromUtf8(name(seen).data()));
            button->setText(label);
            button->setAccessibleName(text(observation.question) + " " + label);
            button->setToolTip(tr("%1 (%2)").arg(label, keyed));
            button->setCheckable(true);
            button->setChecked(answered != open_.rep().observations.end() &&
                               answered->second == seen);
            button->setFocusPolicy(Qt::NoFocus);
            connect(button, &QToolButton::clicked, this,
                    [this, id = observation.id, seen](bool on) {
                        repEdits_.setObservation(id, on ? std::optional(seen) : std::nullopt);
                    });
            line->addWidget(button);
        }
        observationRows_->addWidget(row);
    }
    for (const technique::Measure& measure : open_.pack().measures) {
        if (measure.kind->as<technique::CountedKind>() != nullptr &&
            (all_->isChecked() || measure.at == position_)) {
            observationRows_->addWidget(makeCount(measure));
        }
    }
}

QWidget* ReadingsPanel::makeCount(const technique::Measure& measure) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* question = new QLabel(text(measure.note));
    question->setWordWrap(true);
    line->addWidget(question, 1);
    auto* turns = new QDoubleSpinBox;
    turns->setObjectName("count_" + text(measure.id));
    turns->setAccessibleName(text(measure.note));
    turns->setRange(0.0, 99.0);
    turns->setSingleStep(0.25);
    turns->setSpecialValueText(tr("not counted"));
    const auto counted = open_.rep().counts.find(measure.id);
    turns->setValue(counted == open_.rep().counts.end() ? 0.0 : counted->second);
    connect(turns, &QDoubleSpinBox::editingFinished, this, [this, turns, id = measure.id] {
        repEdits_.setCount(id, turns->value() > 0.0 ? std::optional(turns->value()) : std::nullopt);
    });
    line->addWidget(turns);
    return row;
}

QString ReadingsPanel::explanation(const model::Reading& reading) const {
    const technique::Measure& measure = *technique::findMeasure(open_.pack(), reading.measureId);
    QString html = "<b>" + text(measure.name).toHtmlEscaped() + "</b>: ";
    if (reading.missing) {
        return html + words::inWords(reading.missing->why).toHtmlEscaped();
    }
    html += words::valueWithUncertainty(reading);
    if (reading.unit == model::Unit::bodyHeights && open_.player().height) {
        constexpr double cm = 100.0;
        html += tr(" of height, %1 cm")
                    .arg(*reading.value * open_.player().height->value * cm, 0, 'f', 0);
    }
    html += ", <b>" + verdictText(reading.verdict).toHtmlEscaped() + "</b>.";
    if (reading.range) {
        html += " " + tr("Good is %1 (%2).")
                          .arg(words::rangeText(*reading.range, reading.unit),
                               text(reading.rangeBasis).toHtmlEscaped());
    }
    QStringList points;
    for (const technique::PointExpression& point : measure.points) {
        if (point.isCentreOfMass) {
            points << tr("centre of mass");
            continue;
        }
        QStringList names;
        for (const auto& term : point.terms) {
            names << words::inWords(technique::nameOfRole(term.first));
        }
        points << (names.size() == 1 ? names.front() : tr("middle of ") + names.join(tr(" and ")));
    }
    if (!points.isEmpty()) {
        html += "<br>" +
                tr("Made from: %1 (%2).").arg(points.join(", "), words::kindText(measure.kind->id));
    } else {
        html += "<br>" + tr("Time from %1 to %2.")
                             .arg(text(technique::findPosition(open_.pack(), measure.from)->name),
                                  text(technique::findPosition(open_.pack(), measure.at)->name));
    }
    if (reading.limb) {
        const auto angle = [&](double value) { return words::valueText(value, reading.unit); };
        html +=
            "<br>" + tr("In depth it looks the same two ways: %1 if the joint sticks out to the "
                        "camera or away, %2 if it lies between its neighbours.")
                         .arg(angle(reading.limb->together), angle(reading.limb->through));
    }
    if (reading.from == model::ReadFrom::twoFilms) {
        html += "<br>" + tr("Read in space, from both films of this motion.");
    } else if (reading.from == model::ReadFrom::body) {
        html += "<br>" + tr("Read from the body in space, as this film shows it.");
    } else if (measure.kind->space != nullptr && open_.circumstances().body) {
        html +=
            "<br>" + tr("Place or confirm its landmarks, and it is read from the body in space: "
                        "surer, and from any side.");
    }
    const model::UncertaintyParts& u = reading.uncertainty;
    QStringList parts;
    const auto part = [&](double sd, const QString& what) {
        if (model::coverage95 * sd > 0.05 * reading.u95) {
            parts << tr("%1 from %2")
                         .arg(words::valueText(model::coverage95 * sd, reading.unit), what);
        }
    };
    part(u.placement, tr("placing"));
    part(u.proportion, tr("body proportions"));
    part(u.outOfPlane, tr("what points out of the picture"));
    part(u.body, tr("where the body is in space"));
    part(u.frames, tr("frame spacing"));
    part(u.ground, reading.from == model::ReadFrom::body ? tr("which way the target is")
                                                         : tr("where the ground lies"));
    part(u.smoothing, tr("how suddenly it may have turned between the frames"));
    if (!parts.isEmpty()) {
        html += "<br>" + tr("The ± (95 %) comes from: %1.").arg(parts.join(", "));
    }
    if (!measure.note.empty()) {
        html += "<br>" + text(measure.note).toHtmlEscaped();
    }
    return html;
}

std::optional<ReadingsPanel::TurnedLine> ReadingsPanel::turnedLine() const {
    const technique::Measure* measure = technique::findMeasure(open_.pack(), chosen_);
    if (measure == nullptr || measure->kind->as<technique::HeadingKind>() == nullptr) {
        return std::nullopt;
    }
    // Of hips and shoulders, the shoulders: the hips have a reading of their own.
    const std::string& lead = measure->points.back().terms.front().first;
    const std::string& trail = measure->points[measure->points.size() - 2].terms.front().first;
    const model::Landmark end =
        *technique::landmarkForRole(open_.pack(), lead, open_.player().hand);
    return TurnedLine{measure->at, technique::lineThrough(end), *model::sideOf(end),
                      words::inWords(technique::nameOfRole(lead)),
                      words::inWords(technique::nameOfRole(trail))};
}

const model::LimbChoice* ReadingsPanel::limbChoice() const {
    const auto& readings = open_.review().readings;
    const auto found = std::find_if(readings.begin(), readings.end(),
                                    [this](const auto& r) { return r.measureId == chosen_; });
    return found != readings.end() && found->limb ? &*found->limb : nullptr;
}

void ReadingsPanel::swapDepth() {
    if (const model::LimbChoice* limb = limbChoice()) {
        using model::LimbFold;
        std::optional<LimbFold> next = LimbFold::together;
        if (limb->counted && !limb->byContinuity && *limb->counted == LimbFold::through) {
            next.reset();
        } else if (limb->counted == LimbFold::together) {
            next = LimbFold::through;
        }
        repEdits_.setLimbFold(technique::findMeasure(open_.pack(), chosen_)->at, limb->joint, next);
        return;
    }
    const auto line = turnedLine();
    if (!line) {
        return;
    }
    const auto now = technique::nearerEnd(open_.rep(), line->position, line->line);
    repEdits_.setNearerEnd(line->position, line->line,
                           now ? model::opposite(now->side) : line->leadSide);
}

void ReadingsPanel::showDepth() {
    if (const model::LimbChoice* limb = limbChoice()) {
        showLimb(*limb);
    } else {
        showNearerEnd();
    }
}

void ReadingsPanel::showLimb(const model::LimbChoice& limb) {
    const technique::Measure& measure = *technique::findMeasure(open_.pack(), chosen_);
    const QString joint =
        words::inWords(technique::nameOfRole(measure.points[1].terms.front().first));
    depth_->show();
    if (!limb.counted) {
        depth_->setText(tr("The %1 sticks out in depth (%2)")
                            .arg(joint, words::keyName(words::Action::swapDepth)));
        return;
    }
    const QString whose = limb.byContinuity ? tr("It follows that") : tr("You say");
    depth_->setText(*limb.counted == model::LimbFold::together
                        ? tr("%1 the %2 sticks out in depth: swap (%3)")
                              .arg(whose, joint, words::keyName(words::Action::swapDepth))
                        : tr("%1 the %2 lies between in depth: swap (%3)")
                              .arg(whose, joint, words::keyName(words::Action::swapDepth)));
}

void ReadingsPanel::showNearerEnd() {
    const auto line = turnedLine();
    depth_->setVisible(line.has_value());
    if (!line) {
        return;
    }
    const auto now = technique::nearerEnd(open_.rep(), line->position, line->line);
    if (!now) {
        depth_->setText(tr("The %1 is nearer to the camera (%2)")
                            .arg(line->leadName, words::keyName(words::Action::swapDepth)));
        return;
    }
    const QString& name = now->side == line->leadSide ? line->leadName : line->trailName;
    depth_->setText(now->byCoach ? tr("You say the %1 is nearer: swap (%2)")
                                       .arg(name, words::keyName(words::Action::swapDepth))
                                 : tr("The %1 is taken for nearer: swap (%2)")
                                       .arg(name, words::keyName(words::Action::swapDepth)));
}

void ReadingsPanel::showChosen() {
    showDepth();
    emit chosen(text(chosen_));
    const auto& readings = open_.review().readings;
    const auto found = std::find_if(readings.begin(), readings.end(),
                                    [this](const auto& r) { return r.measureId == chosen_; });
    // The list has the room until there is something to explain.
    constexpr int linesOfHint = 2;
    constexpr int linesOfWords = 7;
    constexpr int linesOfButton = 3;
    const int lines = found == readings.end() ? linesOfHint
                      : depth_->isHidden()    ? linesOfWords
                                              : linesOfWords - linesOfButton;
    howArea_->setFixedHeight(lines * fontMetrics().lineSpacing());
    if (found != readings.end()) {
        how_->setText(explanation(*found));
        layout()->activate(); // the list is shorter now; what was clicked must not slip out of it
        tree_->scrollToItem(tree_->currentItem());
        if (!found->constructs.empty()) {
            open_.goTo(found->constructs.back().frame);
        }
        emit shown({*found});
        return;
    }
    how_->setText(tr("Click a reading to see on the frame how it was made."));
    std::vector<model::Reading> here;
    std::copy_if(readings.begin(), readings.end(), std::back_inserter(here),
                 [this](const auto& r) { return r.positionId == position_; });
    emit shown(here);
}

} // namespace kestrel::app
