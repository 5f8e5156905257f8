#include "app/squad/squad_station.h"

#include "app/shared/not_judged_text.h"
#include "app/shared/text.h"
#include "app/squad/player_dialog.h"
#include "coaching/growth.h"
#include "model/input_error.h"
#include "words/day_text.h"
#include "words/words.h"

#include <QCheckBox>
#include <QDate>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

QString longDate(model::Day day) {
    const QDate date = words::dateOf(day);
    return date.isValid() ? QLocale().toString(date, "d MMM yyyy") : QString();
}

QString aboutPlayer(const model::Player& player, model::Day today) {
    QStringList parts;
    const auto age = model::ageInYears(player.born, today);
    parts << (age ? SquadStation::tr("%1 years old").arg(*age)
                  : SquadStation::tr("age not known: ranges for all ages are used"));
    parts << (player.hand == model::Hand::right ? SquadStation::tr("right-handed")
                                                : SquadStation::tr("left-handed"));
    if (player.height) {
        parts << SquadStation::tr("%1 m tall").arg(player.height->value, 0, 'f', 2);
    }
    parts
        << (player.consentGiven.empty()
                ? SquadStation::tr("▲ no consent to film yet")
                : SquadStation::tr("consent to film since %1").arg(longDate(player.consentGiven)));
    return parts.join(" · ");
}

} // namespace

SquadStation::SquadStation(desk::Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("squadStation");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 14, 16, 14);
    row->setSpacing(18);

    auto* left = new QVBoxLayout;
    auto* title = new QLabel(tr("Squad"));
    title->setProperty("role", "title");
    left->addWidget(title);
    players_ = new QListWidget;
    players_->setObjectName("players");
    players_->setAccessibleName(tr("Players"));
    constexpr int listWidth = 250;
    players_->setFixedWidth(listWidth);
    players_->setSpacing(2);
    left->addWidget(players_, 1);
    auto* add = new QPushButton(tr("New player…"));
    add->setObjectName("newPlayer");
    left->addWidget(add);
    prepare_ = new QPushButton;
    prepare_->setObjectName("prepareFilms");
    left->addWidget(prepare_);
    byItself_ = new QCheckBox(tr("Prepare by itself"));
    byItself_->setObjectName("prepareByItself");
    byItself_->setToolTip(
        tr("Films that come in are looked at without being asked, while the computer has "
           "nothing else to do: reps, key positions and landmarks are proposed"));
    byItself_->setChecked(desk_.settings.get("prepare_by_itself") != "no");
    left->addWidget(byItself_);
    row->addLayout(left);

    row->addLayout(makePlayer(), 1);

    connect(add, &QPushButton::clicked, this, [this] { editPlayer(true); });
    connect(edit_, &QPushButton::clicked, this, [this] { editPlayer(false); });
    connect(bringIn_, &QPushButton::clicked, this, &SquadStation::bringIn);
    connect(prepare_, &QPushButton::clicked, this, [this] {
        desk_.preparer.isPreparing() ? desk_.preparer.stop() : desk_.preparer.start();
    });
    connect(&desk_.preparer, &desk::ClipPreparer::progress, this,
            [this](const std::optional<desk::ClipPreparer::Progress>& how) {
                showPreparing(how);
                if (!how) {
                    refreshWhenSeen();
                }
            });
    connect(byItself_, &QCheckBox::toggled, this, [this](bool on) {
        desk_.settings.set("prepare_by_itself", on ? "yes" : "no");
        desk_.preparer.setByItself(on);
    });
    connect(players_, &QListWidget::currentRowChanged, this, [this] { refreshClips(); });
    connect(&desk_.edits, &desk::EditStack::recordsChanged, this, [this] { refreshPlayers(); });
    connect(&desk_.open, &desk::OpenClip::opened, this,
            [this] { choosePlayer(desk_.open.player().id); });
    connect(&desk_.open, &desk::OpenClip::marksChanged, this, &SquadStation::refreshWhenSeen);
    connect(&desk_.films, &desk::FilmIndices::more, this, &SquadStation::refreshWhenSeen);
    refreshPlayers();
}

QLayout* SquadStation::makePlayer() {
    auto* right = new QVBoxLayout;
    auto* top = new QHBoxLayout;
    heading_ = new QLabel;
    heading_->setObjectName("playerHeading");
    heading_->setProperty("role", "title");
    top->addWidget(heading_, 1);
    edit_ = new QPushButton(tr("Edit player…"));
    edit_->setObjectName("editPlayer");
    top->addWidget(edit_);
    bringIn_ = new QPushButton(tr("Bring in a film…"));
    bringIn_->setObjectName("squadBringIn");
    bringIn_->setProperty("role", "primary");
    top->addWidget(bringIn_);
    right->addLayout(top);
    about_ = new QLabel;
    about_->setObjectName("playerAbout");
    about_->setWordWrap(true);
    right->addWidget(about_);
    auto* list = new QWidget;
    clips_ = new QVBoxLayout(list);
    clips_->setContentsMargins(0, 6, 0, 0);
    clips_->setSpacing(8);
    auto* scroll = new QScrollArea;
    scroll->setWidget(list);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    right->addWidget(scroll, 1);
    return right;
}

void SquadStation::refreshWhenSeen() {
    stale_ = true; // judged anew when looked at, not with every nudge of a landmark
    if (isVisible()) {
        refreshClips();
    }
}

void SquadStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        refreshClips();
    }
}

model::PlayerId SquadStation::currentPlayer() const {
    const QListWidgetItem* item = players_->currentItem();
    return model::PlayerId(item == nullptr ? 0 : item->data(Qt::UserRole).toLongLong());
}

model::PlayerId SquadStation::playerOfLastClip() const {
    const QString last = text(desk_.settings.get("open_clip"));
    const auto clip = desk_.library.clip(model::ClipId(last.toLongLong()));
    return clip ? clip->playerId : model::PlayerId();
}

void SquadStation::choosePlayer(model::PlayerId id) {
    for (int i = 0; i < players_->count(); ++i) {
        if (players_->item(i)->data(Qt::UserRole).toLongLong() == id.value) {
            players_->setCurrentRow(i);
        }
    }
}

void SquadStation::refreshPlayers() {
    const model::PlayerId before = currentPlayer();
    const model::PlayerId wanted = !before.stored() ? playerOfLastClip() : before;
    {
        const QSignalBlocker quiet(players_);
        players_->clear();
        for (const model::Player& player : desk_.library.players()) {
            const int count = static_cast<int>(desk_.library.clips(player.id).size());
            auto* item =
                new QListWidgetItem(text(player.name) + "\n" + tr("%n clip(s)", nullptr, count));
            item->setData(Qt::UserRole, static_cast<qlonglong>(player.id.value));
            players_->addItem(item);
            if (player.id == wanted) {
                players_->setCurrentItem(item);
            }
        }
        if (players_->currentItem() == nullptr && players_->count() > 0) {
            players_->setCurrentRow(0);
        }
    }
    refreshClips();
}

void SquadStation::showPreparing(const std::optional<desk::ClipPreparer::Progress>& how) {
    if (how) {
        if (const auto state = states_.find(how->id); state != states_.end()) {
            state->second->setText(tr("Being prepared: %1 %").arg(std::lround(100.0 * how->share)));
        }
    }
    const QString hindrance = desk::LandmarkSearch::hindrance();
    if (how) {
        prepare_->setText(tr("Stop preparing (%1 of %2, %3 %)")
                              .arg(how->number)
                              .arg(how->count)
                              .arg(static_cast<int>(std::lround(100.0 * how->share))));
        prepare_->setToolTip(
            tr("Looking at %1. What is prepared so far is kept; nothing you marked is touched.")
                .arg(how->clip));
        prepare_->setEnabled(true);
        return;
    }
    const int waiting = desk_.preparer.waiting();
    prepare_->setText(waiting == 0 ? tr("All films are prepared")
                                   : tr("Prepare %n film(s)", nullptr, waiting));
    prepare_->setToolTip(
        !hindrance.isEmpty()
            ? hindrance
            : tr("Finds reps, landmarks and key positions in all films that nobody has looked at "
                 "yet, in the background"));
    prepare_->setEnabled(waiting > 0 && hindrance.isEmpty());
}

void SquadStation::refreshClips() {
    stale_ = false;
    states_.clear();
    if (!desk_.preparer.isPreparing()) {
        showPreparing(std::nullopt);
    }
    while (QLayoutItem* old = clips_->takeAt(0)) {
        if (old->widget() != nullptr) {
            old->widget()->hide();
            old->widget()->deleteLater();
        }
        delete old;
    }
    const auto player = desk_.library.player(currentPlayer());
    edit_->setEnabled(player.has_value());
    bringIn_->setEnabled(player.has_value());
    if (!player) {
        heading_->setText(tr("Welcome"));
        about_->setText(tr("Add a player first: name, hand and, if you know it, the date of birth. "
                           "Then bring in a film."));
        clips_->addStretch();
        return;
    }
    heading_->setText(text(player->name));
    const QString about = aboutPlayer(*player, desk_.clock());
    const coaching::Growth growth = coaching::growthOf(
        player->born, player->sex, desk_.library.heights(player->id), desk_.clock());
    about_->setText((QStringList{about} + words::inWords(coaching::toldGrowth(growth))).join("\n"));
    const auto clips = desk_.library.clips(player->id);
    if (clips.empty()) {
        clips_->addWidget(
            new QLabel(tr("No film yet. Press “Bring in a film” or drop a file on the window.")));
    }
    for (const model::Clip& clip : clips) {
        clips_->addWidget(clipCard(*player, clip));
    }
    clips_->addStretch();
}

QString SquadStation::judgement(const model::Player& player, const model::Clip& clip,
                                const model::Rep& rep) const {
    const auto judged = desk_.judging.of(player, clip, rep);
    if (judged->notJudged) {
        const bool waits = *judged->notJudged == prepare::NotJudged::filmBeingRead;
        return (waits ? " · " : "\n▲ ") + notJudgedText(*judged->notJudged, clip);
    }
    const std::string& focus = judged->review.plan.focusFaultId;
    return " · " +
           (focus.empty()
                ? tr("no fault shows for certain")
                : tr("focus: %1").arg(text(technique::findFault(*judged->pack, focus)->name)));
}

QWidget* SquadStation::clipCard(const model::Player& player, const model::Clip& clip) {
    auto* card = new QFrame;
    card->setProperty("role", "card");
    auto* row = new QHBoxLayout(card);
    auto* words = new QVBoxLayout;
    auto* title = new QLabel(text(clip.title));
    title->setProperty("role", "heading");
    words->addWidget(title);
    QString state;
    try {
        const std::vector<model::Rep> reps = desk_.library.reps(clip.id);
        // Of several reps, the one with most marks speaks for the clip.
        const model::Rep& rep = *std::max_element(
            reps.begin(), reps.end(), [](const model::Rep& a, const model::Rep& b) {
                return std::pair(a.positions.size(), a.found.size()) <
                       std::pair(b.positions.size(), b.found.size());
            });
        const technique::Pack& pack = desk_.shelf.packOf(rep);
        const auto total = std::count_if(pack.positions.begin(), pack.positions.end(),
                                         [](const auto& p) { return !p.event; });
        const auto set =
            std::count_if(pack.positions.begin(), pack.positions.end(),
                          [&](const auto& p) { return !p.event && rep.positions.contains(p.id); });
        state = text(pack.name);
        if (!clip.filmed.empty()) {
            state += " · " + tr("filmed %1").arg(longDate(clip.filmed));
        }
        if (reps.size() > 1) {
            state += " · " + tr("%1 reps").arg(reps.size());
        }
        if (set == 0 && !rep.found.empty()) {
            state += "\n" + tr("Provisional: nobody has looked at it yet") +
                     judgement(player, clip, rep);
        } else if (set == 0) {
            state += "\n" + tr("Not marked yet: set the key positions on the Bench.");
        } else {
            state += "\n" + tr("%1 of %2 positions set").arg(set).arg(total) +
                     judgement(player, clip, rep);
        }
    } catch (const model::InputError& error) {
        state = "▲ " + words::inWords(error.happened()) + " " + words::inWords(error.todo());
    }
    auto* about = new QLabel(state);
    about->setWordWrap(true);
    about->setObjectName("clipState_" + QString::number(clip.id.value));
    states_[clip.id] = about;
    words->addWidget(about);
    row->addLayout(words, 1);
    auto* open = new QPushButton(tr("Open"));
    open->setObjectName("openClip_" + QString::number(clip.id.value));
    open->setAccessibleName(tr("Open %1").arg(text(clip.title)));
    connect(open, &QPushButton::clicked, this, [this, id = clip.id] { emit openClip(id); });
    row->addWidget(open);
    return card;
}

void SquadStation::editPlayer(bool fresh) {
    const model::Player start =
        fresh ? model::Player{} : desk_.library.player(currentPlayer()).value_or(model::Player{});
    PlayerDialog dialog(start, desk_.clock(), this);
    if (dialog.exec() != QDialog::Accepted) {
        return;
    }
    if (!fresh) {
        desk_.squadEdits.setPlayer(dialog.player(),
                                   tr("Change %1").arg(text(dialog.player().name)));
        return;
    }
    choosePlayer(desk_.squadEdits.addPlayer(dialog.player()));
}

} // namespace kestrel::app
