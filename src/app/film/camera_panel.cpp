#include "app/film/camera_panel.h"

#include "app/shared/icon.h"
#include "technique/kinds/two_views.h"
#include "technique/pack/roles.h"
#include "words/day_text.h"
#include "words/words.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::app {
namespace {

/// Capture rates that cameras have, frames a second.
constexpr std::array usualRates{24.0,  25.0,  30.0,  50.0,  60.0, 100.0,
                                120.0, 200.0, 240.0, 480.0, 960.0};

constexpr std::array allViews{model::View::openSide, model::View::closedSide, model::View::front,
                              model::View::rear, model::View::overhead};

QString viewHelp(model::View view) {
    switch (view) {
    case model::View::openSide:
        return CameraPanel::tr("Square to the line to the target; you see the chest at set-up.");
    case model::View::closedSide:
        return CameraPanel::tr("Square to the line to the target; you see the back at set-up.");
    case model::View::front:
        return CameraPanel::tr("From the target, the player plays towards the camera.");
    case model::View::rear:
        return CameraPanel::tr("From behind, the player plays away from the camera.");
    case model::View::overhead:
        return CameraPanel::tr("From above, looking straight down.");
    }
    return {};
}

QString viewFound(const model::FoundView& found) {
    const QString view = words::inWords(technique::nameOfView(found.view));
    constexpr double square = 15.0; // degrees; it is told no better
    return std::abs(found.off.value) < square
               ? CameraPanel::tr("◌ By how the player moves: %1, about square. If that is wrong, "
                                 "press where the camera stood.")
                     .arg(view)
               : CameraPanel::tr("◌ By how the player moves: nearest to %1, about %2° off square. "
                                 "If that is wrong, press where the camera stood.")
                     .arg(view)
                     .arg(std::lround(std::abs(found.off.value)));
}

QLabel* heading(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("role", "heading");
    return label;
}

} // namespace

CameraPanel::CameraPanel(const records::Library& library, desk::Problems& problems,
                         desk::Shelf& shelf, desk::OpenClip& open, desk::ClipEdits& clipEdits,
                         desk::SecondView& secondView, model::Clock clock, QWidget* parent)
    : QWidget(parent),
      library_(library),
      problems_(problems),
      shelf_(shelf),
      open_(open),
      clipEdits_(clipEdits),
      secondView_(secondView),
      clock_(std::move(clock)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    technique_ = new QComboBox;
    technique_->setObjectName("technique");
    technique_->setAccessibleName(tr("Technique"));
    const auto listTechniques = [this] {
        technique_->clear();
        for (const technique::Pack& pack : shelf_.packs()) {
            technique_->addItem(QString::fromStdString(pack.name + " (" + pack.sport + ")"),
                                QString::fromStdString(pack.id));
        }
    };
    listTechniques();
    connect(&shelf_, &desk::Shelf::changed, this, [this, listTechniques] {
        listTechniques();
        refresh();
    });
    column->addWidget(heading(tr("What does the film show?")));
    column->addWidget(technique_);
    connect(technique_, &QComboBox::activated, this, [this] {
        clipEdits_.setTechnique(technique_->currentData().toString().toStdString());
    });
    column->addWidget(makeRate());
    column->addWidget(makeViews());

    addFilmed(*column);
    column->addWidget(makeSpeeds());
    addSecondView(*column);
    column->addStretch();

    connect(&open_, &desk::OpenClip::opened, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { refreshSpeeds(); });
}

void CameraPanel::addFilmed(QVBoxLayout& column) {
    auto* small = new QFormLayout;
    filmed_ = new QDateEdit;
    filmed_->setObjectName("filmed");
    filmed_->setAccessibleName(tr("Day of filming"));
    filmed_->setCalendarPopup(true);
    filmed_->setDisplayFormat("d MMM yyyy");
    small->addRow(tr("Filmed on"), filmed_);
    column.addLayout(small);
    connect(filmed_, &QDateEdit::dateChanged, this, [this](QDate day) {
        if (!filling_ && open_.hasClip()) {
            model::Clip clip = open_.clip();
            clip.filmed = words::dayOf(day);
            clipEdits_.setClip(clip, tr("Say the day of filming"));
        }
    });
    fields_ = new QCheckBox(tr("read as fields: twice the rate"));
    fields_->setObjectName("asFields");
    fields_->setToolTip(tr("This film is interlaced: each frame holds two half pictures taken one "
                           "after the other. Read apart, they show twice as many moments."));
    column.addWidget(fields_);
    connect(fields_, &QCheckBox::clicked, this, [this](bool on) { clipEdits_.setAsFields(on); });
    steadied_ = new QCheckBox(tr("measure paths against the background"));
    steadied_->setObjectName("steadied");
    column.addWidget(steadied_);
    connect(steadied_, &QCheckBox::clicked, this, [this](bool on) {
        model::Clip clip = open_.clip();
        clip.steadied = on;
        clipEdits_.setClip(clip, on ? tr("Take the camera's movement out")
                                    : tr("Leave the camera's movement in"));
    });
}

void CameraPanel::addSecondView(QVBoxLayout& column) {
    column.addWidget(heading(tr("Filmed twice at the same time?")));
    second_ = new QComboBox;
    second_->setObjectName("secondView");
    second_->setAccessibleName(tr("The other film of this motion"));
    column.addWidget(second_);
    secondState_ = new QLabel;
    secondState_->setObjectName("secondViewState");
    secondState_->setWordWrap(true);
    column.addWidget(secondState_);
    secondSound_ = new QPushButton;
    secondSound_->setObjectName("secondSound");
    secondSound_->setToolTip(tr("Which pictures of the two films show the same instant: as the key "
                                "positions say that both have, or as both microphones heard it"));
    column.addWidget(secondSound_);
    connect(secondSound_, &QPushButton::clicked, this, [this] {
        if (library_.syncOffset(open_.clip().id)) {
            clipEdits_.setSyncOffset(std::nullopt);
        } else {
            secondSound_->setEnabled(false);
            secondView_.hear();
        }
    });
    connect(&problems_, &desk::Problems::told, this, [this] { secondSound_->setEnabled(true); });
    connect(second_, &QComboBox::activated, this, [this] {
        const auto id = second_->currentData().toLongLong();
        clipEdits_.setSecondView(id == 0 ? std::nullopt : std::optional(model::ClipId(id)));
    });
}

QWidget* CameraPanel::makeRate() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    rateQuestion_ = new QLabel;
    rateQuestion_->setObjectName("rateQuestion");
    rateQuestion_->setWordWrap(true);
    column->addWidget(rateQuestion_);
    rate_ = new QComboBox;
    rate_->setObjectName("captureRate");
    rate_->setAccessibleName(tr("Frames a second the camera took"));
    rate_->setEditable(true);
    rate_->setInsertPolicy(QComboBox::NoInsert);
    for (const double rate : usualRates) {
        rate_->addItem(QString::number(rate), rate);
    }
    column->addWidget(rate_);
    connect(rate_, &QComboBox::activated, this, [this] { sayRate(); });
    connect(rate_->lineEdit(), &QLineEdit::editingFinished, this, [this] { sayRate(); });
    return box;
}

void CameraPanel::sayRate() {
    bool number = false;
    const double rate = rate_->currentText().trimmed().replace(',', '.').toDouble(&number);
    if (filling_ || !open_.hasClip() || !number || rate <= 0.0) {
        return;
    }
    model::Clip clip = open_.clip();
    clip.captureRate = rate;
    clipEdits_.setClip(clip, tr("Say the capture rate"));
}

QWidget* CameraPanel::makeViews() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    column->addWidget(heading(tr("Where did the camera stand?")));
    auto* row = new QHBoxLayout;
    row->setSpacing(3);
    views_ = new QButtonGroup(this);
    for (const model::View view : allViews) {
        auto* button = new QToolButton;
        const QString id = QString::fromUtf8(name(view).data());
        button->setObjectName("view_" + id);
        button->setIcon(QIcon(":/icons/view_" + id + ".svg"));
        constexpr int side = 46;
        button->setIconSize({side, side});
        QString title = words::inWords(technique::nameOfView(view));
        button->setText(title.replace(' ', '\n'));
        button->setAccessibleName(words::inWords(technique::nameOfView(view)));
        button->setToolTip(viewHelp(view));
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->setCheckable(true);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        constexpr int tall = 92;
        button->setFixedHeight(tall);
        views_->addButton(button, static_cast<int>(view));
        row->addWidget(button);
    }
    column->addLayout(row);
    viewHelp_ = new QLabel;
    viewHelp_->setObjectName("viewHelp");
    viewHelp_->setWordWrap(true);
    column->addWidget(viewHelp_);
    connect(views_, &QButtonGroup::idClicked, this, [this](int id) {
        model::Clip clip = open_.clip();
        clip.view = static_cast<model::View>(id);
        clipEdits_.setClip(clip, tr("Say the view"));
    });
    return box;
}

QWidget* CameraPanel::makeSpeeds() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(heading(tr("Slow motion inside the film")));
    speedProposal_ = new QLabel;
    speedProposal_->setObjectName("speedProposal");
    speedProposal_->setWordWrap(true);
    column->addWidget(speedProposal_);
    takeSpeeds_ = new QPushButton(tr("Use what the time stamps say"));
    takeSpeeds_->setObjectName("takeSpeeds");
    column->addWidget(takeSpeeds_);
    connect(takeSpeeds_, &QPushButton::clicked, this, [this] {
        model::Clip clip = open_.clip();
        clip.speeds = film::speedStretches(open_.index());
        clipEdits_.setClip(clip, tr("Take the film's speed changes over"));
    });
    speeds_ = new QListWidget;
    speeds_->setObjectName("speeds");
    speeds_->setAccessibleName(tr("Changes of speed"));
    constexpr int tall = 74;
    speeds_->setFixedHeight(tall);
    column->addWidget(speeds_);
    connect(speeds_, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { open_.goTo(item->data(Qt::UserRole).toInt()); });
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(tr("From this frame on, slower by")));
    slowdown_ = new QDoubleSpinBox;
    slowdown_->setObjectName("slowdown");
    slowdown_->setAccessibleName(tr("How many times slower it plays from here"));
    constexpr double slowest = 100.0;
    slowdown_->setRange(0.1, slowest);
    slowdown_->setDecimals(1);
    slowdown_->setValue(1.0);
    slowdown_->setSuffix(" ×");
    row->addWidget(slowdown_);
    auto* set = new QPushButton(tr("Set"));
    set->setObjectName("setSpeed");
    row->addWidget(set);
    removeSpeed_ = new QPushButton(tr("Remove the marked change"));
    removeSpeed_->setObjectName("removeSpeed");
    column->addLayout(row);
    column->addWidget(removeSpeed_);
    connect(set, &QPushButton::clicked, this, [this] { setSpeed(); });
    connect(removeSpeed_, &QPushButton::clicked, this, [this] {
        model::Clip clip = open_.clip();
        const int row = speeds_->currentRow();
        if (row >= 0) {
            clip.speeds.erase(clip.speeds.begin() + row);
            clipEdits_.setClip(clip, tr("Remove a change of speed"));
        }
    });
    return box;
}

void CameraPanel::setSpeed() {
    model::Clip clip = open_.clip();
    const int frame = open_.frame();
    if (clip.speeds.empty() && frame > 0) {
        // What comes before is as fast as said so far.
        clip.speeds.push_back(
            {0, model::slowdown(open_.index().fileRate(), clip.captureRate.value_or(0.0))});
    }
    std::erase_if(clip.speeds,
                  [&](const model::SpeedStretch& stretch) { return stretch.fromFrame == frame; });
    clip.speeds.push_back({frame, slowdown_->value()});
    std::sort(clip.speeds.begin(), clip.speeds.end(),
              [](const auto& a, const auto& b) { return a.fromFrame < b.fromFrame; });
    clipEdits_.setClip(clip, tr("Change the speed from frame %1").arg(frame));
}

void CameraPanel::refreshSpeeds() {
    if (!open_.hasClip()) {
        return;
    }
    int now = -1;
    const auto& speeds = open_.clip().speeds;
    for (std::size_t i = 0; i < speeds.size(); ++i) {
        if (speeds[i].fromFrame <= open_.frame()) {
            now = static_cast<int>(i);
        }
    }
    speeds_->setCurrentRow(now);
}

void CameraPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    filling_ = true;
    const model::Clip& clip = open_.clip();
    const double fileRate = open_.index().fileRate();
    if (!clip.speeds.empty()) {
        rateQuestion_->setText(tr("Time runs as the changes of speed below say."));
        rate_->setEditText({});
    } else if (clip.captureRate) {
        rateQuestion_->setText(tr("The camera took this many frames a second:"));
        rate_->setEditText(QString::number(*clip.captureRate));
    } else {
        rateQuestion_->setText(
            tr("▲ How many frames a second did the camera take? The file plays at %1, but a "
               "slow-motion recording does too. No time is read until you say.")
                .arg(fileRate, 0, 'f', 0));
        rate_->setEditText({});
    }
    rate_->setEnabled(clip.speeds.empty());
    views_->setExclusive(false);
    for (const model::View view : allViews) {
        views_->button(static_cast<int>(view))->setChecked(clip.view == view);
    }
    views_->setExclusive(clip.view.has_value());
    viewHelp_->setText(clip.view        ? viewHelp(*clip.view)
                       : clip.foundView ? viewFound(*clip.foundView)
                                        : tr("▲ Angles are read only once this is said, or once "
                                             "the film is prepared and shows it."));
    const QDate day = words::dateOf(clip.filmed);
    filmed_->setDate(day.isValid() ? day : words::dateOf(clock_()));
    fields_->setVisible(open_.index().interlaced != film::Fields::none);
    fields_->setChecked(clip.asFields);
    const bool followed = open_.study() && !open_.study()->camera.empty();
    technique_->setCurrentIndex(technique_->findData(QString::fromStdString(open_.pack().id)));
    steadied_->setChecked(clip.steadied);
    steadied_->setEnabled(followed);
    steadied_->setToolTip(
        followed ? tr("The camera's own movement is taken out of what is measured over several "
                      "frames. The picture is left as it is.")
        : open_.study() ? tr("The background shows too little to follow the camera by.")
                        : tr("Wait until the film has been looked at."));

    const auto found = film::speedStretches(open_.index());
    speedProposal_->setVisible(!found.empty() && clip.speeds != found);
    takeSpeeds_->setVisible(speedProposal_->isVisibleTo(this));
    if (!found.empty()) {
        speedProposal_->setText(
            tr("▲ The time stamps show %1 stretches of different speed.").arg(found.size()));
    }
    speeds_->clear();
    speeds_->setVisible(!clip.speeds.empty());
    removeSpeed_->setVisible(!clip.speeds.empty());
    for (const model::SpeedStretch& stretch : clip.speeds) {
        auto* item =
            new QListWidgetItem(std::abs(stretch.slowdown - 1.0) < 0.05
                                    ? tr("from frame %1: as it happened").arg(stretch.fromFrame)
                                    : tr("from frame %1: %2 times slower")
                                          .arg(stretch.fromFrame)
                                          .arg(stretch.slowdown, 0, 'f', 1));
        item->setData(Qt::UserRole, stretch.fromFrame);
        speeds_->addItem(item);
    }
    refreshSpeeds();
    filling_ = false;
    showSecondView();
}

void CameraPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void CameraPanel::showSecondView() {
    if (!isVisible()) {
        return; // asks the library for all clips of the visit
    }
    const QSignalBlocker quiet(second_);
    second_->clear();
    second_->addItem(tr("no other film"), 0);
    const auto pair = library_.pairOf(open_.clip().id);
    for (const model::Clip& clip : secondView_.possible()) {
        second_->addItem(QString::fromStdString(clip.title), static_cast<qlonglong>(clip.id.value));
        if (pair == clip.id) {
            second_->setCurrentIndex(second_->count() - 1);
        }
    }
    second_->setEnabled(second_->count() > 1);
    const model::Message hindrance =
        technique::secondViewHindrance(open_.pack(), open_.rep(), open_.circumstances());
    const auto& readings = open_.review().readings;
    const auto count = std::count_if(readings.begin(), readings.end(), [](const model::Reading& r) {
        return r.from == model::ReadFrom::twoFilms;
    });
    const auto heard = library_.syncOffset(open_.clip().id);
    secondSound_->setVisible(pair.has_value());
    secondSound_->setEnabled(true);
    secondSound_->setText(heard ? tr("Match by key positions") : tr("Match by sound"));
    QString said = !pair && second_->count() == 1
                       ? tr("A second film of the same visit and technique, taken "
                            "at the same time from another "
                            "side, tells angles in space.")
                   : !pair              ? QString()
                   : !hindrance.empty() ? words::inWords(hindrance)
                                        : tr("%n reading(s) of this rep come(s) from both films.",
                                             nullptr, static_cast<int>(count));
    if (const auto cameras =
            technique::bothCameras(open_.pack(), open_.rep(), open_.circumstances());
        cameras && cameras->spots > 0) {
        constexpr double centimetres = 100.0;
        said += '\n' + tr("The lines of sight from both films to %1 places of the body pass each "
                          "other by %2 cm.")
                           .arg(cameras->spots)
                           .arg(cameras->gapM * centimetres, 0, 'f', 1);
    }
    if (heard) {
        said +=
            '\n' + (heard->seconds < 0.0 ? tr("By the sound the other film began %1 s later.")
                                         : tr("By the sound the other film began %1 s earlier."))
                       .arg(std::abs(heard->seconds), 0, 'f', 3);
    }
    secondState_->setText(said);
}

} // namespace kestrel::app
