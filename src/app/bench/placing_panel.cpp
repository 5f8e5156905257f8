#include "app/bench/placing_panel.h"

#include "app/bench/found_text.h"
#include "app/bench/rep_files.h"
#include "app/shared/loupe.h"
#include "app/shared/text.h"
#include "model/input_error.h"
#include "model/reading.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/roles.h"
#include "technique/positions/doubt.h"
#include "words/keys.h"
#include "words/words.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <utility>

namespace kestrel::app {
namespace {

/// A button's words with its key.
QString keyed(const QString& words, words::Action action) {
    return words + " (" + words::keySign(action) + ")";
}

} // namespace

PlacingPanel::PlacingPanel(desk::Problems& problems, desk::OpenClip& open, desk::RepEdits& repEdits,
                           desk::LandmarkSearch& search, desk::ClipPreparer& preparer,
                           QWidget* parent)
    : QWidget(parent), open_(open), repEdits_(repEdits), search_(search), preparer_(preparer) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    title_ = new QLabel;
    title_->setObjectName("placingTitle");
    title_->setProperty("role", "heading");
    auto* heading = new QHBoxLayout;
    heading->addWidget(title_, 1);
    wantTools_ = new QPushButton(tr("Tools"));
    wantTools_->setObjectName("placingTools");
    wantTools_->setCheckable(true);
    wantTools_->setFocusPolicy(Qt::NoFocus);
    wantTools_->setToolTip(tr("Loupe, landmarks and their buttons, though nothing is to be placed "
                              "here"));
    heading->addWidget(wantTools_);
    heading->addWidget(new RepFilesButton(problems, open_, repEdits_));
    column->addLayout(heading);
    ask_ = new QLabel;
    ask_->setObjectName("placingAsk");
    ask_->setWordWrap(true);
    ask_->setMinimumHeight(2 * fontMetrics().lineSpacing() + 4);
    ask_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    column->addWidget(ask_);

    tools_ = new QWidget;
    auto* inTools = new QVBoxLayout(tools_);
    inTools->setContentsMargins(0, 0, 0, 0);
    inTools->setSpacing(4);
    addList(*inTools);
    addButtons(*inTools);
    column->addWidget(tools_);
    connect(wantTools_, &QPushButton::toggled, this, [this] { showTools(); });
    showProposing(std::nullopt);
    connect(&search_, &desk::LandmarkSearch::progress, this, &PlacingPanel::showProposing);
    connect(&preparer_, &desk::ClipPreparer::progress, this,
            [this](const std::optional<desk::ClipPreparer::Progress>& how) {
                if (!search_.isSearching()) {
                    const bool here = how && open_.hasClip() && how->id == open_.clip().id;
                    showProposing(here ? std::optional(how->share) : std::nullopt);
                }
            });

    connect(&open_, &desk::OpenClip::opened, this, [this] {
        setPosition(open_.pack().positions.front().id);
        if (!search_.isSearching() && !isBeingPrepared()) {
            showProposing(std::nullopt);
        }
    });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] {
        if (!onPositionFrame()) {
            selected_.reset();
        }
        refresh();
    });
}

void PlacingPanel::addList(QVBoxLayout& column) {
    auto* middle = new QHBoxLayout;
    loupe_ = new Loupe(open_);
    middle->addWidget(loupe_, 0, Qt::AlignTop);
    list_ = new QListWidget;
    list_->setObjectName("landmarkList");
    list_->setAccessibleName(tr("Landmarks of this position"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setFixedHeight(loupe_->height());
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    middle->addWidget(list_, 1);
    column.addLayout(middle);
    connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const auto landmark = static_cast<model::Landmark>(item->data(Qt::UserRole).toInt());
        const auto frame = positionFrame();
        if (frame) {
            open_.goTo(*frame);
        }
        if (frame && model::find(open_.rep().landmarks, *frame, landmark) != nullptr) {
            select(landmark);
        } else {
            next_ = landmark;
            select(std::nullopt);
        }
    });
}

void PlacingPanel::addButtons(QVBoxLayout& column) {
    auto* buttons = new QGridLayout;
    buttons->setSpacing(4);
    const auto button = [&](const char* name, const QString& text, const QString& tip, int row,
                            int at, void (PlacingPanel::*work)()) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, work] { (this->*work)(); });
        buttons->addWidget(b, row, at);
        return b;
    };
    setHere_ =
        button("setPosition", keyed(tr("Set here"), words::Action::setPosition),
               tr("The frame shown is this key position"), 0, 0, &PlacingPanel::setPositionHere);
    clear_ = button("clearPosition", tr("Clear"), tr("Forget the frame of this key position"), 0, 1,
                    &PlacingPanel::clearPosition);
    hide_ = button("hideLandmark", keyed(tr("Hidden"), words::Action::hide),
                   tr("The landmark cannot be seen in this frame"), 0, 2,
                   &PlacingPanel::hideNextOrSelected);
    remove_ = button("removeLandmark", keyed(tr("Remove"), words::Action::remove),
                     tr("Remove the chosen landmark"), 0, 3, &PlacingPanel::removeSelected);
    propose_ = button("proposeLandmarks", keyed(tr("Propose"), words::Action::propose), {}, 1, 0,
                      &PlacingPanel::proposeOrCancel);
    doubtful_ =
        button("nextDoubtful", keyed(tr("Check next"), words::Action::checkNext),
               tr("Goes to the proposed position or landmark that matters most for the readings"),
               1, 1, &PlacingPanel::lookAtMostDoubtful);
    confirm_ = button("confirmLandmark", keyed(tr("Confirm"), words::Action::confirm),
                      tr("The proposed landmark or position asked about is right"), 1, 2,
                      &PlacingPanel::confirmSelected);
    confirmAll_ = button("confirmPosition", keyed(tr("Confirm all"), words::Action::confirmAll),
                         tr("This position and all its proposed landmarks are right"), 1, 3,
                         &PlacingPanel::confirmAll);
    button("swapSides", keyed(tr("Swap sides"), words::Action::swapSides),
           tr("Left and right are exchanged in this frame"), 2, 0, &PlacingPanel::swapSides);
    copy_ = button("copyFromBefore", keyed(tr("Copy"), words::Action::copy),
                   tr("Puts the chosen or next landmark where it is in the frame before"), 2, 1,
                   &PlacingPanel::copyFromBefore);
    fromHere_ = button("trackFromHere", keyed(tr("Track on"), words::Action::trackOn), {}, 2, 2,
                       &PlacingPanel::askForPlayerFromHere);
    follow_ = button("followPlaced", keyed(tr("Follow"), words::Action::follow), {}, 2, 3,
                     &PlacingPanel::followPlaced);
    column.addLayout(buttons);
}

std::optional<int> PlacingPanel::positionFrame() const {
    return model::frameOf(open_.rep(), position_);
}

const model::FoundInstant* PlacingPanel::found() const {
    return open_.hasClip() ? model::onlyFound(open_.rep(), position_) : nullptr;
}

QString PlacingPanel::askAbout(const model::FoundInstant& found) const {
    const QString name =
        QString::fromStdString(technique::findPosition(open_.pack(), position_)->name);
    const QString way = tr("%1 if it is, else step to it and press %2.")
                            .arg(words::keyName(words::Action::confirm),
                                 words::keyName(words::Action::setPosition));
    const QString doubt =
        found.confidence >= technique::sureConfidence
            ? tr("sure it is this moment")
            : tr("%1 % sure it is this moment").arg(std::lround(100.0 * found.confidence));
    const int frames = foundFrames(found, open_.circumstances().time);
    const QString off = tr("± %n frame(s)", nullptr, frames);
    return tr("Is this %1 (%2, %3)? %4").arg(name, off, doubt, way);
}

bool PlacingPanel::onPositionFrame() const {
    return open_.hasClip() && positionFrame() == open_.frame();
}

QString PlacingPanel::toldByTheCamera() const {
    const auto& landmarks = open_.rep().landmarks;
    const bool tracked = std::any_of(landmarks.begin(), landmarks.end(), [](const auto& points) {
        return std::any_of(points.second.begin(), points.second.end(), [](const auto& point) {
            return point.second.source != model::Source::placed;
        });
    });
    if (!tracked) {
        return {};
    }
    if (open_.captureRateMissing()) {
        return tr("Say on the Film station how many frames a second the camera took, and this "
                  "position is looked for. Or set it with %1.")
            .arg(words::keyName(words::Action::setPosition));
    }
    if (!technique::viewToFindBy(open_.circumstances())) {
        return tr("Say on the Film station from where this was filmed, and this position is looked "
                  "for. Or set it with %1.")
            .arg(words::keyName(words::Action::setPosition));
    }
    return {};
}

QString PlacingPanel::spokenName(model::Landmark landmark) const {
    return words::inWords(technique::nameOfRole(
        technique::roleName(open_.pack(), technique::findPosition(open_.pack(), position_),
                            landmark, open_.player().hand)));
}

void PlacingPanel::setPosition(const std::string& positionId) {
    position_ = positionId;
    selected_.reset();
    next_.reset();
    refresh();
    emit selectionChanged();
}

void PlacingPanel::refresh() {
    const technique::Position* position =
        open_.hasClip() ? technique::findPosition(open_.pack(), position_) : nullptr;
    if (position == nullptr) {
        return;
    }
    chooseNext(*position);
    title_->setText(text(position->name));
    QString asked = asksFor(*position);
    if (const QString only = knownHereOnly(); !only.isEmpty() && asking_ == Asking::nothing) {
        asked += " " + only;
    }
    ask_->setText(asked);
    listLandmarks();
    enableButtons();
    showTools();
}

bool PlacingPanel::somethingIsToDo() const {
    return !positionFrame() || selected_ || next_ || found() != nullptr || proposedHere() > 0 ||
           asking_ != Asking::nothing || search_.isSearching() || isBeingPrepared();
}

void PlacingPanel::showTools() {
    const bool needed = !open_.hasClip() || somethingIsToDo();
    wantTools_->setVisible(!needed);
    tools_->setVisible(needed || wantTools_->isChecked());
}

const model::LandmarkPoint* PlacingPanel::pointOf(model::Landmark landmark) const {
    const auto frame = positionFrame();
    return frame ? model::find(open_.rep().landmarks, *frame, landmark) : nullptr;
}

void PlacingPanel::chooseNext(const technique::Position& position) {
    needed_ = technique::landmarksToPlace(open_.pack(), position, open_.circumstances());
    offered_.clear();
    for (const model::Landmark thing : open_.pack().things) {
        if (std::find(needed_.begin(), needed_.end(), thing) == needed_.end()) {
            offered_.push_back(thing);
        }
    }
    // The one chosen by hand while it is missing, else the first that is.
    if (!next_ || pointOf(*next_) != nullptr ||
        (std::find(needed_.begin(), needed_.end(), *next_) == needed_.end() &&
         std::find(offered_.begin(), offered_.end(), *next_) == offered_.end())) {
        const auto missing = std::find_if(needed_.begin(), needed_.end(),
                                          [&](model::Landmark l) { return pointOf(l) == nullptr; });
        next_ = missing == needed_.end() ? std::nullopt : std::optional(*missing);
    }
    if (selected_ && pointOf(*selected_) == nullptr) {
        selected_.reset();
    }
}

int PlacingPanel::proposedHere() const {
    return static_cast<int>(std::count_if(needed_.begin(), needed_.end(),
                                          [&](model::Landmark l) { return isProposed(l); }));
}

QString PlacingPanel::asksFor(const technique::Position& position) const {
    const QString name = text(position.name);
    if (asking_ != Asking::nothing) {
        return tr("Click on the player to be followed; %1 lets it be.")
            .arg(words::keyName(words::Action::letGo));
    }
    if (!positionFrame()) {
        const QString missing = toldByTheCamera();
        return missing.isEmpty()
                   ? tr("%1 Go to that frame and set it with %2.")
                         .arg(text(position.definition), words::keyName(words::Action::setPosition))
                   : missing;
    }
    if (found() != nullptr && onPositionFrame() && !selected_) {
        return askAbout(*found());
    }
    if (needed_.empty()) {
        return tr("Set. No landmarks are needed here.");
    }
    if (!onPositionFrame()) {
        return tr("You are off %1. Choose it above to go on placing, or press %2 to move it here.")
            .arg(name, words::keyName(words::Action::setPosition));
    }
    if (selected_) {
        return isProposed(*selected_)
                   ? tr("Is the %1 here (± %2 pixels)? %3 if it is, else click where it is; %4 if "
                        "it is hidden.")
                         .arg(spokenName(*selected_))
                         .arg(model::coverage95 * pointOf(*selected_)->sdPx, 0, 'f', 0)
                         .arg(words::keyName(words::Action::confirm),
                              words::keyName(words::Action::hide))
                   : tr("Arrow keys move the %1 by a quarter pixel, with Shift by two pixels; %2 "
                        "lets go.")
                         .arg(spokenName(*selected_), words::keyName(words::Action::letGo));
    }
    if (next_) {
        return tr("Click the %1.").arg(spokenName(*next_));
    }
    if (const int proposed = proposedHere(); proposed > 0) {
        return tr("%n proposed landmark(s) of %1 to look at: %2 goes to the one that matters most, "
                  "%3 takes all.",
                  nullptr, proposed)
            .arg(name, words::keyName(words::Action::checkNext),
                 words::keyName(words::Action::confirmAll));
    }
    return tr("All landmarks of %1 are placed. %2 goes to the next position.")
        .arg(name, words::keyName(words::Action::positionAfter));
}

void PlacingPanel::listLandmarks() {
    list_->clear();
    std::vector<model::Landmark> listed = needed_;
    listed.insert(listed.end(), offered_.begin(), offered_.end());
    for (const model::Landmark landmark : listed) {
        const model::LandmarkPoint* point = pointOf(landmark);
        const bool machine = isProposed(landmark);
        const bool optional =
            std::find(offered_.begin(), offered_.end(), landmark) != offered_.end();
        const char* const sign = point == nullptr ? (optional ? "+ " : "○ ")
                                 : point->hidden  ? "– "
                                 : machine        ? "◌ "
                                                  : "● ";
        const QString note =
            point != nullptr && point->hidden ? tr(" (hidden)")
            : !machine                        ? QString()
            : point->occluded
                ? tr(" ± %1 px, covered").arg(model::coverage95 * point->sdPx, 0, 'f', 0)
                : tr(" ± %1 px").arg(model::coverage95 * point->sdPx, 0, 'f', 0);
        auto* item = new QListWidgetItem(QString::fromUtf8(sign) + spokenName(landmark) + note);
        item->setData(Qt::UserRole, static_cast<int>(landmark));
        list_->addItem(item);
        if (landmark == (selected_ ? selected_ : next_)) {
            list_->setCurrentItem(item);
        }
    }
}

void PlacingPanel::enableButtons() {
    const bool framed = positionFrame().has_value();
    setHere_->setEnabled(true);
    clear_->setEnabled(framed && found() == nullptr);
    hide_->setEnabled(onPositionFrame() && (selected_ || next_));
    copy_->setEnabled(onPositionFrame() && (selected_ || next_));
    remove_->setEnabled(onPositionFrame() && selected_ && !isProposed(*selected_));
    confirm_->setEnabled(onPositionFrame() &&
                         (selected_ ? isProposed(*selected_) : found() != nullptr));
    confirmAll_->setEnabled(framed && (proposedHere() > 0 || found() != nullptr));
    const auto& landmarks = open_.rep().landmarks;
    const QString hindrance = search_.followingHindrance();
    follow_->setEnabled(hindrance.isEmpty() && !search_.isSearching());
    follow_->setToolTip(
        hindrance.isEmpty()
            ? tr("Follows what you placed: joints in the frames around, implement, ball and "
                 "glove through the rep")
            : hindrance);
    doubtful_->setEnabled(
        !open_.rep().found.empty() ||
        std::any_of(landmarks.begin(), landmarks.end(), [](const auto& points) {
            return std::any_of(points.second.begin(), points.second.end(), [](const auto& point) {
                return point.second.source != model::Source::placed;
            });
        }));
}

bool PlacingPanel::isProposed(model::Landmark landmark) const {
    const model::LandmarkPoint* point = pointOf(landmark);
    return point != nullptr && point->source != model::Source::placed;
}

void PlacingPanel::showProposing(std::optional<double> share) {
    showTools();
    if (share) {
        propose_->setText(tr("Stop (%1 %)").arg(std::lround(100.0 * *share)));
        propose_->setToolTip(tr("Stops looking for landmarks; nothing is changed"));
        fromHere_->setEnabled(false);
        return;
    }
    const QString hindrance = desk::LandmarkSearch::hindrance();
    fromHere_->setEnabled(hindrance.isEmpty());
    fromHere_->setToolTip(hindrance.isEmpty()
                              ? tr("You click on the player, who is then followed anew from this "
                                   "frame to the end of the rep; what comes before stays")
                              : hindrance);
    propose_->setText(keyed(tr("Propose"), words::Action::propose));
    propose_->setEnabled(hindrance.isEmpty());
    propose_->setToolTip(
        hindrance.isEmpty()
            ? tr("Looks for the landmarks of whoever moves in all frames of this "
                 "rep; with %1 you click on the player first. What you placed stays "
                 "as it is")
                  .arg(words::keyName(words::Action::proposeWhom))
            : hindrance);
}

bool PlacingPanel::isBeingPrepared() const {
    return open_.hasClip() && preparer_.underWay() == open_.clip().id;
}

void PlacingPanel::proposeOrCancel() {
    if (!open_.hasClip()) {
        return;
    }
    if (search_.isSearching()) {
        search_.cancel();
    } else if (isBeingPrepared()) {
        preparer_.stop();
    } else if (propose_->isEnabled()) {
        search_.propose();
    }
}

void PlacingPanel::askWho(Asking what) {
    if (open_.hasClip() && !search_.isSearching() && propose_->isEnabled()) {
        asking_ = what;
        refresh();
    }
}

void PlacingPanel::askForPlayer() {
    askWho(Asking::wholeRep);
}

void PlacingPanel::askForPlayerFromHere() {
    askWho(Asking::fromHere);
}

QString PlacingPanel::knownHereOnly() const {
    const auto frame = positionFrame();
    if (!frame || !onPositionFrame() || !search_.followingHindrance().isEmpty()) {
        return {};
    }
    const model::LandmarkTrack& landmarks = open_.rep().landmarks;
    const auto onlyHere = [&](model::Landmark landmark) {
        const model::LandmarkPoint* here = model::find(landmarks, *frame, landmark);
        return here != nullptr && here->source == model::Source::placed && !here->hidden &&
               std::none_of(landmarks.begin(), landmarks.end(), [&](const auto& points) {
                   const auto point = points.second.find(landmark);
                   return point != points.second.end() &&
                          point->second.source == model::Source::tracked;
               });
    };
    if (onlyHere(model::Landmark::implementTip) || onlyHere(model::Landmark::implementHead)) {
        return tr("The implement is known in this frame only: %1 follows it, from a frame that "
                  "shows its whole length.")
            .arg(words::keyName(words::Action::follow));
    }
    if (onlyHere(model::Landmark::ball)) {
        return tr("The ball is known in this frame only: %1 follows it.")
            .arg(words::keyName(words::Action::follow));
    }
    return {};
}

void PlacingPanel::followPlaced() {
    if (open_.hasClip() && follow_->isEnabled()) {
        search_.followPlaced();
    }
}

void PlacingPanel::copyFromBefore() {
    const auto landmark = selected_ ? selected_ : next_;
    if (onPositionFrame() && landmark) {
        repEdits_.copyFromBefore(open_.frame(), {*landmark});
        select(landmark);
    }
}

void PlacingPanel::swapSides() {
    if (open_.hasClip()) {
        repEdits_.swapSides(open_.frame());
    }
}

void PlacingPanel::confirmSelected() {
    if (!onPositionFrame()) {
        return;
    }
    if (selected_ && isProposed(*selected_)) {
        repEdits_.confirmLandmarks(open_.frame(), {*selected_});
    } else if (!selected_ && found() != nullptr) {
        repEdits_.confirmPosition(position_);
    } else {
        return;
    }
    lookAtMostDoubtful();
}

void PlacingPanel::confirmAll() {
    if (!open_.hasClip()) {
        return;
    }
    if (found() != nullptr) {
        repEdits_.confirmPosition(position_, needed_);
    } else if (const auto frame = positionFrame()) {
        repEdits_.confirmLandmarks(*frame, needed_);
    }
    select(std::nullopt);
}

void PlacingPanel::lookAtMostDoubtful() {
    if (!open_.hasClip()) {
        return;
    }
    const auto doubts = technique::doubtsOf(open_.pack(), open_.rep(), open_.circumstances());
    if (doubts.empty()) {
        select(std::nullopt);
        return;
    }
    const technique::Doubtful& first = doubts.front();
    if (first.positionId != position_) {
        emit positionWanted(QString::fromStdString(first.positionId));
    }
    open_.goTo(first.frame);
    select(first.landmark);
    if (first.landmark) {
        const model::Point2 at =
            model::find(open_.rep().landmarks, first.frame, *first.landmark)->px;
        loupe_->lookAt({at.x, at.y});
    }
}

void PlacingPanel::put(model::Landmark landmark, QPointF picture, const QString& what,
                       std::optional<int> gesture) {
    model::LandmarkPoint point;
    point.px = {picture.x(), picture.y()};
    repEdits_.setLandmark(open_.frame(), landmark, point,
                          tr("%1 %2").arg(what, spokenName(landmark)), gesture);
}

void PlacingPanel::placeNext(QPointF picture) {
    if (const Asking what = std::exchange(asking_, Asking::nothing); what != Asking::nothing) {
        const model::Point2 player{picture.x(), picture.y()};
        what == Asking::wholeRep ? search_.propose(player) : search_.trackFromHere(player);
        refresh();
        return;
    }
    // A proposed landmark that is looked at is put where the click is.
    const bool corrects = selected_ && isProposed(*selected_);
    const auto landmark = corrects ? selected_ : next_;
    if (!onPositionFrame() || !landmark) {
        return;
    }
    const bool inside = picture.x() >= -0.5 && picture.y() >= -0.5 &&
                        picture.x() < open_.index().width - 0.5 &&
                        picture.y() < open_.index().height - 0.5;
    if (!inside) {
        return;
    }
    put(*landmark, picture, corrects ? tr("Correct") : tr("Place"));
    if (corrects) {
        lookAtMostDoubtful();
        return;
    }
    selected_.reset();
    emit selectionChanged();
    if (!next_) {
        emit positionComplete();
    }
}

void PlacingPanel::moveTo(model::Landmark landmark, QPointF picture) {
    put(landmark, picture, tr("Move")); // each drag is an edit of its own
    select(landmark);
}

void PlacingPanel::nudgeSelected(QPointF by) {
    const model::LandmarkPoint* point =
        selected_ ? model::find(open_.rep().landmarks, open_.frame(), *selected_) : nullptr;
    if (point != nullptr && !point->hidden) {
        put(*selected_, QPointF(point->px.x, point->px.y) + by, tr("Move"), nudging_);
    }
}

void PlacingPanel::hideNextOrSelected() {
    const auto landmark = selected_ ? selected_ : next_;
    if (!onPositionFrame() || !landmark) {
        return;
    }
    model::LandmarkPoint point;
    point.hidden = true;
    const bool wasProposed = isProposed(*landmark);
    repEdits_.setLandmark(open_.frame(), *landmark, point,
                          tr("Hide %1").arg(spokenName(*landmark)));
    if (wasProposed) {
        lookAtMostDoubtful();
    } else {
        select(std::nullopt);
    }
}

void PlacingPanel::removeSelected() {
    if (onPositionFrame() && selected_) {
        repEdits_.setLandmark(open_.frame(), *selected_, std::nullopt,
                              tr("Remove %1").arg(spokenName(*selected_)));
        select(std::nullopt);
    }
}

void PlacingPanel::select(std::optional<model::Landmark> landmark) {
    asking_ = Asking::nothing;
    selected_ = landmark;
    nudging_ = repEdits_.newGesture(); // what is nudged from here on is another row
    refresh();
    emit selectionChanged();
}

void PlacingPanel::setPositionHere() {
    if (open_.hasClip()) {
        repEdits_.setPosition(position_, open_.frame());
    }
}

void PlacingPanel::clearPosition() {
    if (open_.hasClip()) {
        repEdits_.setPosition(position_, std::nullopt);
    }
}

} // namespace kestrel::app
