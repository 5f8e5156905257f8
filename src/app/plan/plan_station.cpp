#include "app/plan/plan_station.h"

#include "app/plan/ask_back_card.h"
#include "app/plan/film_panel.h"
#include "app/plan/findings_panel.h"
#include "app/plan/focus_panel.h"
#include "app/plan/homework_panel.h"
#include "app/plan/sheets_panel.h"
#include "app/shared/labels.h"
#include "report/take_home.h"
#include "words/day_text.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QTabWidget>
#include <QVBoxLayout>

namespace kestrel::app {

PlanStation::PlanStation(desk::Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("planStation");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 10, 14, 10);
    row->setSpacing(14);
    row->addWidget(makeChoices(), 5);
    row->addWidget(makePages(), 6);
    connect(&desk_.open, &desk::OpenClip::opened, this, [this] { refresh(); });
    connect(&desk_.open, &desk::OpenClip::closed, this, [this] { refresh(); });
    connect(&desk_.open, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&desk_.visit, &desk::OpenVisit::moreJudged, this, [this] { refresh(); });
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
    empty_ = wrappedLabel("planEmpty");
    empty_->setText(tr("Open a clip on the Squad station and mark it on the Bench; the findings "
                       "and the plan appear here by themselves."));
    column->addWidget(empty_);
    choices_ = new QWidget;
    auto* choices = new QVBoxLayout(choices_);
    choices->setContentsMargins(0, 0, 0, 0);
    askBack_ = new AskBackCard(desk_.library, desk_.open, desk_.visit);
    choices->addWidget(askBack_);
    focus_ = new FocusPanel(desk_.shelf, desk_.open, desk_.visit, desk_.planEdits);
    findings_ = new FindingsPanel(desk_.open, desk_.visit, desk_.planEdits);
    choices->addWidget(focus_);
    choices->addWidget(findings_);
    column->addWidget(choices_);
    column->addStretch();
    connect(findings_, &FindingsPanel::showPosition, this, &PlanStation::showPosition);
    auto* scroll = new QScrollArea;
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    return scroll;
}

QWidget* PlanStation::makePages() {
    pages_ = new QTabWidget;
    pages_->setObjectName("planPages");
    pages_->setDocumentMode(true);
    sheets_ = new SheetsPanel(desk_.library, desk_.settings, desk_.problems, desk_.shelf,
                              desk_.open, desk_.visit, desk_.planEdits, desk_.films, desk_.clock);
    homework_ = new HomeworkPanel(desk_.library, desk_.problems, desk_.shelf, desk_.open,
                                  desk_.visit, desk_.planEdits, desk_.clock);
    film_ = new FilmPanel(desk_.library, desk_.problems, desk_.judging, desk_.open, desk_.visit,
                          desk_.repEdits, desk_.films);
    film_->setBlurFaces(sheets_->blurFaces());
    pages_->insertTab(sheets, sheets_, tr("Sheets"));
    pages_->insertTab(homework, homework_, tr("Homework"));
    pages_->insertTab(film, film_, tr("Review film"));
    connect(pages_, &QTabWidget::currentChanged, this, [this] {
        film_->finishTyping();
        refreshPage();
    });
    connect(sheets_, &SheetsPanel::blurChosen, film_, &FilmPanel::setBlurFaces);
    connect(sheets_, &SheetsPanel::saved, this, &PlanStation::saved);
    connect(homework_, &HomeworkPanel::saved, this, &PlanStation::saved);
    connect(film_, &FilmPanel::saved, this, &PlanStation::saved);
    return pages_;
}

void PlanStation::choosePage(Page page) {
    pages_->setCurrentIndex(page);
}

void PlanStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        refresh();
    }
}

void PlanStation::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    // Leaving the station is a pause in typing too, and another clip may follow.
    focus_->finishNote();
    film_->finishTyping();
}

void PlanStation::refresh() {
    stale_ = !isVisible();
    if (stale_) {
        return;
    }
    const bool open = desk_.open.hasClip();
    empty_->setVisible(!open);
    choices_->setVisible(open);
    pages_->setVisible(open);
    if (!open) {
        heading_->setText(tr("No clip is open"));
        sheets_->clear();
        return;
    }
    const QString day = words::dayText(desk_.open.clip().filmed);
    heading_->setText(day.isEmpty()
                          ? tr("%1: plan").arg(text(desk_.open.player().name))
                          : tr("%1: plan after %2").arg(text(desk_.open.player().name), day));
    askBack_->refresh();
    focus_->refresh();
    findings_->refresh();
    refreshPage();
}

void PlanStation::refreshPage() {
    if (!desk_.open.hasClip() || !isVisible()) {
        return;
    }
    switch (static_cast<Page>(pages_->currentIndex())) {
    case sheets:
        sheets_->refresh();
        break;
    case homework:
        homework_->refresh();
        break;
    case film:
        film_->refresh();
        break;
    }
}

} // namespace kestrel::app
