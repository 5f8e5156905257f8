#include "app/film/film_check_panel.h"

#include "app/shared/text.h"
#include "model/input_error.h"
#include "report/filming_card.h"
#include "report/palette.h"
#include "technique/judge/film_remarks.h"
#include "track/camera/camera_motion.h"
#include "words/measured.h"
#include "words/words.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

QString sign(technique::FilmRemark::Grade grade) {
    switch (grade) {
    case technique::FilmRemark::Grade::good:
        return QStringLiteral("●");
    case technique::FilmRemark::Grade::mind:
        return QStringLiteral("◆");
    case technique::FilmRemark::Grade::poor:
        break;
    }
    return QStringLiteral("▲");
}

QString shown(technique::Shown s) {
    switch (s) {
    case technique::Shown::readable:
        return FilmCheckPanel::tr("● can be read");
    case technique::Shown::bracketed:
        return FilmCheckPanel::tr("◆ only bracketed");
    case technique::Shown::notSeen:
        break;
    }
    return FilmCheckPanel::tr("▲ not seen");
}

QString filmFacts(const film::FilmIndex& index) {
    QString facts = FilmCheckPanel::tr("%1 × %2 pixels · %3 frames · %4 s long\n"
                                       "plays at %5 frames a second · %6")
                        .arg(index.width)
                        .arg(index.height)
                        .arg(index.frameCount())
                        .arg(index.duration().value, 0, 'f', 2)
                        .arg(index.fileRate(), 0, 'f', index.variableRate ? 1 : 2)
                        .arg(QString::fromStdString(index.codec).toUpper());
    if (index.variableRate) {
        facts +=
            FilmCheckPanel::tr("\nThe time between frames varies; each frame's own time is used.");
    }
    if (index.cutOff && index.promisedFrames > 0) {
        facts += FilmCheckPanel::tr("\nThe file was cut off: %1 of its %2 frames are there. These "
                                    "can be used; for the rest copy it from the camera again.")
                     .arg(index.frameCount())
                     .arg(index.promisedFrames);
    } else if (index.cutOff) {
        facts +=
            FilmCheckPanel::tr("\nThe file was cut off; the frames that are there can be used.");
    }
    return facts;
}

} // namespace

FilmCheckPanel::FilmCheckPanel(desk::Problems& problems, desk::OpenClip& open, QWidget* parent)
    : QWidget(parent), problems_(problems), open_(open) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    facts_ = new QLabel;
    facts_->setObjectName("clipFacts");
    facts_->setWordWrap(true);
    column->addWidget(facts_);
    remarks_ = new QLabel;
    remarks_->setObjectName("filmRemarks");
    remarks_->setWordWrap(true);
    remarks_->setAlignment(Qt::AlignTop);
    auto* scroll = new QScrollArea;
    scroll->setWidget(remarks_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll, 3);
    table_ = new QTreeWidget;
    table_->setObjectName("filmShows");
    table_->setAccessibleName(tr("What this film can show"));
    table_->setRootIsDecorated(false);
    table_->setColumnCount(3);
    table_->setHeaderLabels({tr("Instant or timing"), tr("lasts"), tr("in this film")});
    table_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    table_->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    table_->header()->setStretchLastSection(false);
    column->addWidget(table_, 4);
    auto* card = new QPushButton(tr("Card for the next filming…"));
    card->setObjectName("filmingCard");
    card->setToolTip(tr("A page to print: where the camera stands, how high, how many frames"));
    column->addWidget(card);
    connect(card, &QPushButton::clicked, this, [this] { saveCard(); });
    connect(&open_, &desk::OpenClip::opened, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
}

void FilmCheckPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    facts_->setText(filmFacts(open_.index()));
    technique::FilmFacts facts;
    const model::ClipTime& time = open_.circumstances().time;
    // Where the rep is fastest counts in a film with changes of speed: the release, if it is set.
    const int frame =
        model::frameOf(open_.rep(), open_.pack().anchor).value_or(open_.index().frameCount() / 2);
    facts.frameInterval =
        open_.captureRateMissing() ? 0.0 : model::frameInterval(time, frame).value;
    facts.view = open_.circumstances().view;
    const auto& study = open_.study();
    const auto measured = technique::bodyHeight(open_.pack(), open_.rep(), open_.player().hand);
    facts.playerHeightPx = measured                ? measured->value
                           : study && study->mover ? study->mover->height
                                                   : 0.0;
    std::optional<technique::PictureFacts> picture;
    if (study) {
        const track::CameraSteadiness camera =
            track::steadiness(study->camera, time, open_.index().width, open_.index().height);
        picture = {study->brightness,
                   study->tooBright,
                   study->tooDark,
                   !study->camera.empty(),
                   camera.shakePx,
                   camera.driftPx,
                   technique::editFacts(*study, open_.index().fileTimes(), open_.index().width,
                                        open_.index().height)};
    }
    QStringList lines;
    for (const technique::FilmRemark& remark :
         technique::filmRemarks(open_.pack(), facts, picture)) {
        lines << sign(remark.grade) + " " + words::inWords(remark.says);
    }
    if (facts.frameInterval <= 0.0) {
        lines.prepend(tr("▲ Say under Camera how many frames a second it took; then this says what "
                         "the film can show."));
    }
    if (!study) {
        lines << tr("… the film is being looked at; light and steadiness follow.");
    }
    remarks_->setText(lines.join("\n\n"));
    refreshTable(facts);
}

void FilmCheckPanel::refreshTable(const technique::FilmFacts& facts) {
    const technique::FilmCheck check = technique::checkFilm(open_.pack(), facts);
    table_->clear();
    for (const technique::PositionShown& position : check.positions) {
        auto* row = new QTreeWidgetItem(
            {text(technique::findPosition(open_.pack(), position.positionId)->name),
             position.frames >= 10.0 ? tr("%1 frames").arg(position.frames, 0, 'f', 0)
                                     : tr("%1 frames").arg(position.frames, 0, 'f', 1),
             shown(position.shown)});
        table_->addTopLevelItem(row);
    }
    for (const technique::TimingShown& timing : check.timings) {
        const technique::Measure& measure = *technique::findMeasure(open_.pack(), timing.measureId);
        table_->addTopLevelItem(new QTreeWidgetItem(
            {text(measure.name), "±" + words::valueText(timing.u95, measure.unit),
             shown(timing.shown)}));
    }
}

void FilmCheckPanel::saveCard() {
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the card"), text(open_.pack().id) + "-filming.pdf", tr("PDF (*.pdf)"));
    if (file.isEmpty()) {
        return;
    }
    problems_.trying(
        [&] { report::writeFilmingCard(open_.pack(), open_.player().height, file.toStdString()); });
}

} // namespace kestrel::app
