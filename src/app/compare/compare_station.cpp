#include "app/compare/compare_station.h"

#include "app/compare/candidate_strip.h"
#include "app/compare/comparison_files.h"
#include "app/compare/differences_panel.h"
#include "app/compare/pair_stage.h"
#include "app/shared/clip_map.h"
#include "app/shared/elided_label.h"
#include "app/shared/labels.h"
#include "app/shared/transport.h"
#include "technique/pack/roles.h"
#include "words/measured.h"
#include "words/words.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace kestrel::app {
namespace {

constexpr double quarter = 90.0;
/// A little from above, so that the ground is seen.
constexpr double usualAbove = 12.0;

/// The roles of landmarks that the positions list, each once, in the order of the pack.
std::vector<std::string> rolesOf(const technique::Pack& pack, model::Hand hand) {
    std::vector<std::string> roles;
    std::set<model::Landmark> taken;
    for (const technique::Position& position : pack.positions) {
        for (const std::string& role : position.landmarks) {
            const auto landmark = technique::landmarkForRole(pack, role, hand);
            if (landmark && taken.insert(*landmark).second) {
                roles.push_back(role);
            }
        }
    }
    return roles;
}

QToolButton* lookButton(const QString& name, const QString& words, const QString& tip) {
    QToolButton* button = smallButton(words, name, tip);
    button->setFocusPolicy(Qt::NoFocus);
    return button;
}

QComboBox* choice(const char* name, const QString& says) {
    auto* box = new QComboBox;
    box->setObjectName(name);
    box->setAccessibleName(says);
    box->setToolTip(says);
    box->setFocusPolicy(Qt::NoFocus);
    return box;
}

} // namespace

CompareStation::CompareStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), desk_(desk) {
    setObjectName("compareStation");
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 6, 8, 6);
    column->setSpacing(4);
    column->addWidget(new CandidateStrip(desk_.open, desk_.comparison, desk_.films));

    auto* middle = new QHBoxLayout;
    middle->setSpacing(8);
    auto* film = new QVBoxLayout;
    film->setSpacing(3);
    stage_ = new PairStage(desk_.open, desk_.comparison);
    film->addWidget(makeLook());
    film->addWidget(stage_, 1);
    film->addWidget(makeStep());
    auto* map = new ClipMap(desk_.open, desk_.clipEdits, thumbnails);
    film->addWidget(map);
    transport_ = new Transport(desk_.open, *map);
    film->addWidget(transport_);
    middle->addLayout(film, 1);

    auto* side = new QWidget;
    constexpr int sideWidth = 430;
    side->setFixedWidth(sideWidth);
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    auto* differences = new DifferencesPanel(desk_.open, desk_.visit, desk_.comparison);
    right->addWidget(differences, 1);
    files_ = new ComparisonFiles(desk_.open, desk_.comparison, desk_.films, desk_.settings,
                                 desk_.problems);
    right->addWidget(files_);
    middle->addWidget(side);
    column->addLayout(middle, 1);

    connect(differences, &DifferencesPanel::chosen, this,
            [this](const QString& measure, const QString& position) {
                stage_->setMeasure(measure.toStdString());
                if (!measure.isEmpty()) {
                    goToPosition(position.toStdString());
                }
            });
    connect(&desk_.comparison, &desk::Comparison::changed, this, [this] { refresh(); });
    connect(&desk_.comparison, &desk::Comparison::stepChanged, this, [this] { showStep(); });
    connect(&desk_.open, &desk::OpenClip::frameChanged, this, [this] { showStep(); });
    refresh();
}

QWidget* CompareStation::makeLook() {
    auto* look = new QWidget;
    auto* row = new QHBoxLayout(look);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    lay_ = new QButtonGroup(this);
    const auto lay = [&](PairStage::Lay how, const char* name, const QString& words,
                         const QString& tip) {
        QToolButton* button =
            lookButton(name, words,
                       tr("%1 (%2 for the next)").arg(tip, words::keyName(words::Action::layNext)));
        button->setCheckable(true);
        lay_->addButton(button, static_cast<int>(how));
        row->addWidget(button);
    };
    lay(PairStage::Lay::beside, "layBeside", tr("Beside"),
        tr("Side by side, both as tall, on one ground line"));
    lay(PairStage::Lay::over, "layOver", tr("Over"), tr("The other laid over this one"));
    lay(PairStage::Lay::inSpace, "layInSpace", tr("In space"),
        tr("The bodies in space, both turned to one view; the other one as dashed lines over this "
           "one"));
    lay_->button(static_cast<int>(PairStage::Lay::beside))->setChecked(true);
    connect(lay_, &QButtonGroup::idClicked, this, [this](int id) {
        stage_->setLay(static_cast<PairStage::Lay>(id));
        showTogether();
    });
    other_ = choice("otherAs", tr("How the other one is laid over"));
    other_->addItem(tr("as lines"), static_cast<int>(PairStage::Other::asLines));
    other_->addItem(tr("as a picture"), static_cast<int>(PairStage::Other::asPicture));
    connect(other_, &QComboBox::activated, this, [this] {
        stage_->setOther(static_cast<PairStage::Other>(other_->currentData().toInt()));
    });
    row->addWidget(other_);
    anchor_ = choice("anchor", tr("What lies on what, and what lines are tied to"));
    connect(anchor_, &QComboBox::activated, this,
            [this] { stage_->setAnchor(anchor_->currentData().toString().toStdString()); });
    row->addWidget(anchor_);
    aid_ = choice("aid", tr("Drawn on both"));
    aid_->addItem(tr("no lines"), static_cast<int>(report::PairAid::none));
    aid_->addItem(tr("plumb line"), static_cast<int>(report::PairAid::plumbLine));
    aid_->addItem(tr("clock"), static_cast<int>(report::PairAid::clock));
    aid_->addItem(tr("height grid"), static_cast<int>(report::PairAid::heightGrid));
    connect(aid_, &QComboBox::activated, this, [this] {
        stage_->setAid(static_cast<report::PairAid>(aid_->currentData().toInt()));
        showTogether();
    });
    row->addWidget(aid_);
    bodyViews_ = new QWidget;
    auto* views = new QHBoxLayout(bodyViews_);
    views->setContentsMargins(0, 0, 0, 0);
    const auto view = [&](const char* name, const QString& words, const QString& tip,
                          report::BodyView from) {
        QToolButton* button = lookButton(name, words, tip);
        connect(button, &QToolButton::clicked, this, [this, from] { stage_->lookFrom(from); });
        views->addWidget(button);
    };
    view("pairFromSide", tr("Side"), tr("Both from the side, the target to the right"),
         {0.0, usualAbove});
    view("pairFromFront", tr("Front"), tr("Both from the front"), {quarter, usualAbove});
    view("pairFromAbove", tr("Above"), tr("Both from above"), {0.0, quarter});
    row->addWidget(bodyViews_);
    mirror_ = new QCheckBox(tr("mirror"));
    mirror_->setObjectName("mirror");
    mirror_->setToolTip(tr("The other one in a mirror: a left-hander as a right-hander, a film "
                           "from the other side (%1)")
                            .arg(words::keyName(words::Action::mirror)));
    mirror_->setFocusPolicy(Qt::NoFocus);
    connect(mirror_, &QCheckBox::toggled, this, [this](bool on) {
        stage_->setMirrored(on);
        files_->setMirrored(on);
    });
    row->addWidget(mirror_);
    row->addStretch();
    return look;
}

QWidget* CompareStation::makeStep() {
    auto* step = new QWidget;
    auto* column = new QVBoxLayout(step);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    positions_ = new QHBoxLayout;
    positions_->setSpacing(3);
    positions_->addStretch();
    column->addLayout(positions_);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    step_ = choice("stepTogether", tr("How the two go together in time"));
    connect(step_, &QComboBox::activated, this, [this] {
        const std::string from = step_->currentData().toString().toStdString();
        desk_.comparison.stepTogether(from.empty() ? std::nullopt : std::optional(from));
    });
    row->addWidget(step_);
    for (const auto& [name, words, by, action] :
         {std::tuple("otherBack", tr("◂ other"), -1, words::Action::otherBack),
          std::tuple("otherOn", tr("other ▸"), 1, words::Action::otherOn)}) {
        QToolButton* button = lookButton(
            name, words,
            tr("The other one a frame against this one (%1)").arg(words::keyName(action)));
        connect(button, &QToolButton::clicked, this,
                [this, by = by] { desk_.comparison.nudge(by); });
        row->addWidget(button);
    }
    correct_ = new QPushButton;
    correct_->setObjectName("correctPosition");
    correct_->setFocusPolicy(Qt::NoFocus);
    connect(correct_, &QPushButton::clicked, this, [this] {
        const auto position = positionHere();
        const auto frame = desk_.comparison.otherFrame(desk_.open.frame());
        if (position && frame) {
            const model::Rep rep = desk_.comparison.other().rep;
            desk_.comparison.nudge(-desk_.comparison.nudged());
            desk_.repEdits.setPositionOf(rep, *position, frame);
        }
    });
    row->addWidget(correct_);
    times_ = new ElidedLabel;
    times_->setObjectName("pairTimes");
    row->addWidget(times_, 1);
    column->addLayout(row);
    return step;
}

void CompareStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    desk_.comparison.setWatched(true);
}

void CompareStation::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    transport_->stop();
    desk_.comparison.setWatched(false);
}

void CompareStation::refresh() {
    chooseMirror();
    rebuildPositions();
    showTogether();
    showStep();
}

void CompareStation::chooseMirror() {
    const bool both = desk_.open.hasClip() && desk_.comparison.hasOther();
    mirror_->setEnabled(both);
    if (!both || mirrorFor_ == desk_.comparison.other().rep.id) {
        return; // the coach's choice stays
    }
    mirrorFor_ = desk_.comparison.other().rep.id;
    mirror_->setChecked(desk_.comparison.other().circumstances.hand !=
                        desk_.open.circumstances().hand);
}

void CompareStation::rebuildPositions() {
    const bool both = desk_.open.hasClip() && desk_.comparison.hasOther();
    const std::vector<std::string> shared =
        both ? desk_.comparison.sharedPositions() : std::vector<std::string>();
    const QString anchor = anchor_->currentData().toString();
    anchor_->clear();
    anchor_->addItem(tr("on the ground"), QString());
    if (both) {
        for (const std::string& role :
             rolesOf(desk_.open.pack(), desk_.open.circumstances().hand)) {
            anchor_->addItem(tr("at the %1").arg(words::inWords(technique::nameOfRole(role))),
                             QString::fromStdString(role));
        }
    }
    anchor_->setCurrentIndex(std::max(0, anchor_->findData(anchor)));
    stage_->setAnchor(anchor_->currentData().toString().toStdString());
    if (shared == shared_ && both) {
        return;
    }
    shared_ = shared;
    for (QToolButton* button : positionButtons_) {
        button->hide();
        button->deleteLater();
    }
    positionButtons_.clear();
    step_->clear();
    step_->addItem(tr("in step at the key positions"), QString());
    for (const std::string& id : shared_) {
        const QString name = text(technique::findPosition(desk_.open.pack(), id)->name);
        QToolButton* button = lookButton(QStringLiteral("pairPosition_%1").arg(text(id)), name,
                                         tr("Both at %1").arg(name));
        button->setCheckable(true);
        connect(button, &QToolButton::clicked, this, [this, id = id] { goToPosition(id); });
        positions_->insertWidget(static_cast<int>(positionButtons_.size()), button);
        positionButtons_.push_back(button);
        step_->addItem(tr("in true time from %1").arg(name), QString::fromStdString(id));
    }
}

void CompareStation::showTogether() {
    const bool both = desk_.open.hasClip() && desk_.comparison.hasOther();
    const PairStage::Lay lay = stage_->lay();
    other_->setVisible(lay == PairStage::Lay::over);
    anchor_->setVisible(lay == PairStage::Lay::over ||
                        (lay == PairStage::Lay::beside && aid_->currentIndex() > 0));
    aid_->setVisible(lay != PairStage::Lay::inSpace);
    bodyViews_->setVisible(lay == PairStage::Lay::inSpace);
    step_->setEnabled(both);
    for (const char* name : {"otherBack", "otherOn"}) {
        findChild<QToolButton*>(name)->setEnabled(both);
    }
}

std::optional<std::string> CompareStation::positionHere() const {
    for (const std::string& id : shared_) {
        if (model::frameOf(desk_.open.rep(), id) == desk_.open.frame()) {
            return id;
        }
    }
    return std::nullopt;
}

void CompareStation::showStep() {
    const bool both = desk_.open.hasClip() && desk_.comparison.hasOther();
    correct_->hide();
    if (!both) {
        times_->clear();
        return;
    }
    step_->setCurrentIndex(std::max(
        0, step_->findData(QString::fromStdString(desk_.comparison.trueTimeFrom().value_or("")))));
    const auto here = positionHere();
    for (std::size_t i = 0; i < positionButtons_.size(); ++i) {
        positionButtons_[i]->setChecked(here == shared_[i]);
    }
    const auto frame = desk_.comparison.otherFrame(desk_.open.frame());
    const auto times = desk_.comparison.times();
    if (!frame || !times) {
        times_->setText(shared_.empty() ? tr("The two share no key position, so nothing says how "
                                             "they go together in time.")
                                        : tr("frame %1 · the other film does not show this moment")
                                              .arg(desk_.open.frame()));
        return;
    }
    constexpr double hardly = 0.0005; // rounds to nothing
    const double later = times->there - times->here;
    const auto seconds = [](double value) {
        constexpr int toTheMillisecond = 3;
        return words::figureText({value, toTheMillisecond});
    };
    const QString gap = std::abs(later) < hardly ? tr("same time")
                        : later > 0.0            ? tr("%1 s later").arg(seconds(later))
                                                 : tr("%1 s earlier").arg(seconds(-later));
    times_->setText(tr("frame %1, %2 s · other %3, %4 s · %5")
                        .arg(desk_.open.frame())
                        .arg(seconds(times->here))
                        .arg(*frame)
                        .arg(seconds(times->there), gap));
    if (here && desk_.comparison.nudged() != 0 && !desk_.comparison.otherIsModel()) {
        correct_->setText(
            tr("Set %1 there").arg(text(technique::findPosition(desk_.open.pack(), *here)->name)));
        correct_->setToolTip(
            tr("Says that frame %1 of the other film is this key position").arg(*frame));
        correct_->show();
    }
}

void CompareStation::goToPosition(const std::string& positionId) {
    if (const auto frame = model::frameOf(desk_.open.rep(), positionId)) {
        desk_.open.goTo(*frame);
    }
    showStep(); // a button pressed twice stays pressed
}

void CompareStation::moveToPosition(int by) {
    std::vector<int> frames;
    for (const std::string& id : shared_) {
        frames.push_back(*model::frameOf(desk_.open.rep(), id));
    }
    std::sort(frames.begin(), frames.end());
    const int now = desk_.open.frame();
    if (by > 0) {
        const auto next = std::upper_bound(frames.begin(), frames.end(), now);
        if (next != frames.end()) {
            desk_.open.goTo(*next);
        }
    } else {
        const auto from = std::lower_bound(frames.begin(), frames.end(), now);
        if (from != frames.begin()) {
            desk_.open.goTo(*std::prev(from));
        }
    }
}

void CompareStation::keyPressEvent(QKeyEvent* event) {
    const auto action = desk_.open.hasClip() ? words::actionFor(*event, words::Where::onCompare)
                                             : std::optional<words::Action>();
    constexpr int ten = 10;
    switch (action.value_or(words::Action::keys)) {
    case words::Action::back:
        transport_->step(-1);
        break;
    case words::Action::on:
        transport_->step(1);
        break;
    case words::Action::backTen:
        transport_->step(-ten);
        break;
    case words::Action::onTen:
        transport_->step(ten);
        break;
    case words::Action::play:
        transport_->togglePlay();
        break;
    case words::Action::positionBefore:
        moveToPosition(-1);
        break;
    case words::Action::positionAfter:
        moveToPosition(1);
        break;
    case words::Action::positionNumbered: {
        const auto& positions = desk_.open.pack().positions;
        const auto place = static_cast<std::size_t>(event->key() - Qt::Key_1);
        if (place < positions.size()) {
            goToPosition(positions[place].id);
        }
        break;
    }
    case words::Action::wholePicture:
        stage_->fit();
        break;
    case words::Action::layNext: {
        constexpr int lays = 3;
        lay_->button((static_cast<int>(stage_->lay()) + 1) % lays)->click();
        break;
    }
    case words::Action::mirror:
        mirror_->click();
        break;
    case words::Action::otherBack:
        desk_.comparison.nudge(-1);
        break;
    case words::Action::otherOn:
        desk_.comparison.nudge(1);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace kestrel::app
