#include "app/compare/candidate_strip.h"

#include "app/shared/pose_pictures.h"
#include "app/shared/text.h"
#include "desk/job.h"
#include "prepare/circumstances.h"
#include "report/film_images.h"
#include "report/position_picture.h"
#include "words/day_text.h"

#include <QHBoxLayout>
#include <QToolButton>

namespace kestrel::app {
namespace {

using Why = desk::Comparison::Candidate::Why;

constexpr QSize cardPicture(92, 58);
constexpr std::size_t mostCards = 10;

QString titleOf(const desk::Comparison::Candidate& candidate, const desk::OpenClip& open) {
    if (!candidate.judged) {
        return CandidateStrip::tr("Pose model");
    }
    const prepare::JudgedRep& rep = *candidate.judged;
    const QString name = rep.clip.id == open.clip().id ? text(rep.rep.title) : text(rep.clip.title);
    switch (candidate.why) {
    case Why::visitsBest:
        return CandidateStrip::tr("Best of the day");
    case Why::earlierVisit:
        return words::dayText(rep.clip.filmed);
    default:
        return name;
    }
}

QString tipOf(const desk::Comparison::Candidate& candidate) {
    if (!candidate.judged) {
        return CandidateStrip::tr("The technique as it is usually done, by somebody of the "
                                  "player's build, from where this film was taken");
    }
    const prepare::JudgedRep& rep = *candidate.judged;
    return CandidateStrip::tr("%1, %2, %3")
        .arg(words::dayText(rep.clip.filmed), text(rep.clip.title), text(rep.rep.title));
}

/// The frame at the position that the pack counts from, else at any; it has one.
int shownFrame(const prepare::JudgedRep& rep) {
    const auto anchor = model::frameOf(rep.rep, rep.pack->anchor);
    return anchor ? *anchor : model::allPositions(rep.rep).begin()->second;
}

} // namespace

CandidateStrip::CandidateStrip(desk::OpenClip& open, desk::Comparison& comparison,
                               desk::FilmIndices& films, QWidget* parent)
    : QWidget(parent), open_(open), comparison_(comparison), films_(films) {
    setObjectName("candidateStrip");
    setAccessibleName(tr("What to compare with"));
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(3);
    row_->addStretch();
    connect(&comparison_, &desk::Comparison::candidatesChanged, this, [this] { rebuild(); });
    connect(&comparison_, &desk::Comparison::changed, this, [this] { showChosen(); });
}

void CandidateStrip::rebuild() {
    for (QToolButton* card : cards_) {
        card->hide();
        card->deleteLater();
    }
    cards_.clear();
    const auto& candidates = comparison_.candidates();
    for (std::size_t i = 0; i < std::min(candidates.size(), mostCards); ++i) {
        auto* card = new QToolButton;
        card->setObjectName(QStringLiteral("candidate_%1").arg(i));
        card->setText(titleOf(candidates[i], open_));
        card->setToolTip(tipOf(candidates[i]));
        card->setAccessibleName(tr("Compare with %1").arg(card->text()));
        card->setCheckable(true);
        card->setAutoRaise(true);
        card->setFocusPolicy(Qt::NoFocus);
        card->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        card->setIconSize(cardPicture);
        constexpr int cardWidth = 118;
        card->setFixedWidth(cardWidth);
        connect(card, &QToolButton::clicked, this, [this, i] { comparison_.choose(i); });
        row_->insertWidget(static_cast<int>(i), card);
        cards_.push_back(card);
        makePicture(i);
    }
    showChosen();
}

void CandidateStrip::showChosen() {
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        cards_[i]->setChecked(comparison_.chosen() == i);
    }
}

void CandidateStrip::makePicture(std::size_t candidate) {
    const desk::Comparison::Candidate& shown = comparison_.candidates()[candidate];
    const technique::Pack& pack = open_.pack();
    const std::string key = shown.judged ? std::to_string(shown.judged->rep.id.value) + "/" +
                                               std::to_string(shownFrame(*shown.judged))
                                         : pack.id;
    QToolButton* card = cards_[candidate];
    if (const auto made = pictures_.find(key); made != pictures_.end()) {
        card->setIcon(QIcon(QPixmap::fromImage(made->second)));
        return;
    }
    const auto put = [this, key, card = QPointer<QToolButton>(card)](const QImage& image) {
        pictures_[key] = image;
        if (card) {
            card->setIcon(QIcon(QPixmap::fromImage(image)));
        }
    };
    const auto without = [](const std::exception_ptr&) {}; // the card keeps its words
    const double aspect = static_cast<double>(cardPicture.width()) / cardPicture.height();
    if (!shown.judged) {
        desk::runJob(
            this,
            [pack, position = pack.anchor](const desk::TellShare&) {
                return posePicture(pack, position)
                    .scaled(cardPicture, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            },
            put, without);
        return;
    }
    const prepare::KnownFilm film = films_.of(shown.judged->clip);
    const auto* index = std::get_if<const film::FilmIndex*>(&film);
    if (index == nullptr) {
        return;
    }
    desk::runJob(
        this,
        [index = prepare::readAsTheClipSays(shown.judged->clip, **index), rep = shown.judged,
         aspect](const desk::TellShare&) {
            const int frame = shownFrame(*rep);
            const QImage whole = report::filmImages(index)(frame);
            if (whole.isNull()) {
                return QImage();
            }
            return report::positionPicture(
                whole, frame, report::playerRegion(rep->rep.landmarks, frame, whole.size(), aspect),
                2 * cardPicture.width(), {});
        },
        put, without);
}

} // namespace kestrel::app
