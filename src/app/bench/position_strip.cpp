#include "app/bench/position_strip.h"

#include "app/bench/found_text.h"
#include "report/palette.h"
#include "report/position_picture.h"
#include "technique/judge/evaluate.h"
#include "technique/positions/doubt.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QToolButton>

#include <algorithm>

namespace kestrel::app {
namespace {

constexpr QSize cardPicture(92, 58);

/// The frame's thumbnail with the player in the middle.
QPixmap cardPixmap(const QImage& thumbnail, const desk::OpenClip& open, int frame) {
    QPixmap pixmap(cardPicture);
    pixmap.fill(report::nearBlack);
    if (thumbnail.isNull()) {
        return pixmap;
    }
    const QSize whole(open.index().width, open.index().height);
    QRectF region =
        report::playerRegion(open.rep().landmarks, frame, whole,
                             static_cast<double>(cardPicture.width()) / cardPicture.height());
    const double scale = static_cast<double>(thumbnail.height()) / whole.height();
    region = QRectF(region.topLeft() * scale, region.size() * scale);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QSizeF fitted = region.size().scaled(QSizeF(cardPicture), Qt::KeepAspectRatio);
    const QPointF corner((cardPicture.width() - fitted.width()) / 2,
                         (cardPicture.height() - fitted.height()) / 2);
    painter.drawImage(QRectF(corner, fitted), thumbnail, region);
    return pixmap;
}

} // namespace

PositionStrip::PositionStrip(desk::OpenClip& open, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), open_(open), thumbnails_(thumbnails) {
    setObjectName("positionStrip");
    setAccessibleName(tr("Key positions"));
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(3);
    connect(&open_, &desk::OpenClip::opened, this, [this] { rebuild(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&thumbnails_, &Thumbnails::ready, this, [this] { refresh(); });
}

void PositionStrip::rebuild() {
    qDeleteAll(cards_);
    cards_.clear();
    for (const technique::Position& position : open_.pack().positions) {
        auto* card = new QToolButton;
        card->setObjectName("position_" + QString::fromStdString(position.id));
        card->setAccessibleName(QString::fromStdString(position.name));
        card->setToolTip(QString::fromStdString(
            position.definition + (position.lookFor.empty() ? "" : "\n" + position.lookFor)));
        card->setCheckable(true);
        card->setAutoRaise(true);
        card->setFocusPolicy(Qt::NoFocus);
        card->setToolButtonStyle(position.event ? Qt::ToolButtonTextOnly
                                                : Qt::ToolButtonTextUnderIcon);
        card->setIconSize(cardPicture);
        card->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
        card->setMinimumWidth(position.event ? 80 : 96);
        connect(card, &QToolButton::clicked, this, [this, id = position.id] { choose(id); });
        row_->addWidget(card, position.event ? 2 : 3);
        cards_.push_back(card);
    }
    current_ = open_.pack().positions.front().id;
    refresh();
}

QString PositionStrip::caption(const technique::Position& position) const {
    const QString name = QString::fromStdString(position.name);
    const model::Rep& rep = open_.rep();
    const auto frame = model::frameOf(rep, position.id);
    if (!frame) {
        return name + "\n" + tr("not set");
    }
    QString second = tr("frame %1").arg(*frame);
    const auto anchor = model::frameOf(rep, open_.pack().anchor);
    const model::ClipTime& time = open_.circumstances().time;
    if (anchor && !open_.captureRateMissing()) {
        const double ms = 1000.0 * model::elapsed(time, *anchor, *frame).value;
        second = tr("%1 ms").arg(QString::number(ms, 'f', 0).replace('-', QChar(0x2212)));
    }
    if (const model::FoundInstant* found = model::onlyFound(rep, position.id)) {
        // Nobody has looked at it yet: the open circle says so, as for landmarks.
        const QString mark = technique::isDoubtful(position, *found, open_.circumstances())
                                 ? QStringLiteral("◌? ")
                                 : QStringLiteral("◌ ");
        const QString off = tr("± %1 fr.").arg(foundFrames(*found, time));
        // The cards of timing marks are narrow and have no picture: three short lines.
        return position.event ? name + "\n" + mark + second + "\n" + off
                              : mark + name + "\n" + second + " " + off;
    }
    const auto needed = technique::landmarksToPlace(open_.pack(), position, open_.circumstances());
    if (!needed.empty()) {
        const auto done = std::count_if(needed.begin(), needed.end(), [&](model::Landmark l) {
            return model::find(rep.landmarks, *frame, l) != nullptr;
        });
        second += tr(" · %1/%2").arg(done).arg(needed.size());
    }
    return name + "\n" + second;
}

void PositionStrip::refresh() {
    if (!open_.hasClip() || cards_.size() != open_.pack().positions.size()) {
        return;
    }
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const technique::Position& position = open_.pack().positions[i];
        QToolButton* card = cards_[i];
        card->setText(caption(position));
        card->setChecked(position.id == current_);
        const auto frame = model::frameOf(open_.rep(), position.id);
        if (position.event) {
            continue; // a timing mark is a narrow card: its picture would only repeat its
                      // neighbours'
        }
        QPixmap pixmap(cardPicture);
        pixmap.fill(Qt::transparent);
        if (frame) {
            pixmap = cardPixmap(thumbnails_.at(*frame), open_, *frame);
        }
        card->setIcon(pixmap);
    }
}

void PositionStrip::choose(const std::string& positionId) {
    current_ = positionId;
    if (const auto frame = model::frameOf(open_.rep(), positionId)) {
        open_.goTo(*frame);
    }
    refresh();
    emit chosen(QString::fromStdString(positionId));
}

void PositionStrip::move(int by) {
    if (!open_.hasClip()) {
        return;
    }
    const auto& positions = open_.pack().positions;
    const int at = static_cast<int>(technique::positionOrder(open_.pack(), current_));
    const int next = std::clamp(at + by, 0, static_cast<int>(positions.size()) - 1);
    choose(positions[static_cast<std::size_t>(next)].id);
}

} // namespace kestrel::app
