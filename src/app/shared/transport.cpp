#include "app/shared/transport.h"

#include "app/shared/clip_map.h"
#include "app/shared/elided_label.h"
#include "app/shared/icon.h"
#include "words/keys.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>

namespace kestrel::app {

Transport::Transport(desk::OpenClip& open, ClipMap& map, QWidget* parent)
    : QWidget(parent), open_(open) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 2, 0, 2);
    row->setSpacing(4);
    const auto button = [&](const char* name, const QString& title, const char* iconName,
                            auto work) {
        auto* b = new QToolButton;
        b->setObjectName(name);
        b->setIcon(icon(iconName));
        b->setToolTip(title);
        b->setAccessibleName(title);
        b->setAutoRaise(true);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QToolButton::clicked, this, work);
        row->addWidget(b);
        return b;
    };
    button("backTen", tr("Back ten frames (%1)").arg(words::keyName(words::Action::backTen)),
           "back_ten", [this] { step(-10); });
    button("backOne", tr("Back one frame (%1)").arg(words::keyName(words::Action::back)),
           "back_one", [this] { step(-1); });
    play_ = button("play", tr("Play or pause (%1)").arg(words::keyName(words::Action::play)),
                   "play", [this] { togglePlay(); });
    button("onOne", tr("On one frame (%1)").arg(words::keyName(words::Action::on)), "on_one",
           [this] { step(1); });
    button("onTen", tr("On ten frames (%1)").arg(words::keyName(words::Action::onTen)), "on_ten",
           [this] { step(10); });

    speed_ = new QComboBox;
    speed_->setObjectName("speed");
    speed_->setAccessibleName(tr("Playing speed"));
    speed_->setToolTip(tr("Playing speed against what happened on the field"));
    speed_->setFocusPolicy(Qt::NoFocus);
    speed_->addItem(tr("full speed"), 1.0);
    speed_->addItem(tr("½ speed"), 0.5);
    speed_->addItem(tr("¼ speed"), 0.25);
    speed_->addItem(tr("⅛ speed"), 0.125);
    speed_->addItem(tr("1⁄16 speed"), 0.0625);
    speed_->setCurrentIndex(2);
    row->addWidget(speed_);
    connect(speed_, &QComboBox::currentIndexChanged, this, [this] {
        if (playing()) {
            playFrom_ = open_.frame();
            since_.restart();
        }
    });
    constexpr double nearer = 1.6;
    button("mapOut", tr("Show more of the clip"), "map_out", [&map] { map.zoom(1.0 / nearer); });
    button("mapIn", tr("Show less of the clip, in more detail"), "map_in",
           [&map] { map.zoom(nearer); });
    button("mapRep", tr("Show this rep"), "map_rep", [this, &map] {
        if (open_.hasClip()) {
            map.showRep();
        }
    });
    button("mapAll", tr("Show the whole clip"), "map_all", [this, &map] {
        if (open_.hasClip()) {
            map.showWholeClip();
        }
    });
    row->addStretch();

    place_ = new ElidedLabel;
    place_->setObjectName("place");
    row->addWidget(place_);
    time_ = new QLineEdit;
    time_->setObjectName("goToTime");
    time_->setPlaceholderText(tr("go to s"));
    time_->setToolTip(tr("A time of the file in seconds; Enter goes there"));
    time_->setAccessibleName(tr("Go to time in seconds"));
    time_->setFixedWidth(74);
    row->addWidget(time_);
    connect(time_, &QLineEdit::returnPressed, this, [this] { goToTypedTime(); });

    constexpr int tickMs = 8;
    timer_.setInterval(tickMs);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, [this] { playOn(); });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { showPlace(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { showPlace(); });
    connect(&open_, &desk::OpenClip::opened, this, [this] {
        stop();
        showPlace();
    });
    connect(&open_, &desk::OpenClip::closed, this, [this] {
        stop();
        place_->clear();
    });
}

void Transport::step(int frames) {
    if (open_.hasClip()) {
        stop();
        open_.goTo(open_.frame() + frames);
    }
}

void Transport::togglePlay() {
    if (!open_.hasClip()) {
        return;
    }
    if (playing()) {
        stop();
        return;
    }
    if (open_.frame() + 1 >= open_.index().frameCount()) {
        open_.goTo(0);
    }
    playFrom_ = open_.frame();
    since_.restart();
    timer_.start();
    play_->setIcon(icon("pause"));
}

void Transport::stop() {
    timer_.stop();
    play_->setIcon(icon("play"));
}

void Transport::playOn() {
    const model::ClipTime& time = open_.circumstances().time;
    const double elapsed =
        static_cast<double>(since_.nsecsElapsed()) * 1e-9 * speed_->currentData().toDouble();
    const int frame = model::frameAtFieldTime(
        time, time.fieldTimes()[static_cast<std::size_t>(playFrom_)] + model::Seconds(elapsed));
    if (frame != open_.frame()) {
        open_.goTo(frame);
    }
    if (frame + 1 >= open_.index().frameCount()) {
        stop();
    }
}

void Transport::showPlace() {
    if (!open_.hasClip()) {
        return;
    }
    const model::ClipTime& time = open_.circumstances().time;
    QString text = tr("frame %1 of %2 · %3 s")
                       .arg(open_.frame())
                       .arg(open_.index().frameCount() - 1)
                       .arg(open_.index().seconds(open_.frame()).value, 0, 'f', 3);
    const auto anchor = model::frameOf(open_.rep(), open_.pack().anchor);
    if (anchor && !open_.captureRateMissing() && *anchor < open_.index().frameCount()) {
        const double ms = 1000.0 * model::elapsed(time, *anchor, open_.frame()).value;
        text += tr(" · %1 ms from %2")
                    .arg(QString::number(ms, 'f', 0).replace('-', QChar(0x2212)))
                    .arg(QString::fromStdString(
                        technique::findPosition(open_.pack(), open_.pack().anchor)->name));
    }
    place_->setText(text);
}

void Transport::giveFocusBack() {
    // To the station, so that its keys work again.
    for (QWidget* widget = parentWidget(); widget != nullptr; widget = widget->parentWidget()) {
        if (widget->focusPolicy() == Qt::StrongFocus) {
            widget->setFocus();
            return;
        }
    }
}

void Transport::goToTypedTime() {
    bool good = false;
    const double seconds = time_->text().trimmed().replace(',', '.').toDouble(&good);
    if (good && open_.hasClip()) {
        stop();
        open_.goTo(model::frameAtFileTime(open_.circumstances().time, model::Seconds(seconds)));
        time_->clear();
        giveFocusBack();
    } else {
        time_->selectAll();
    }
}

} // namespace kestrel::app
