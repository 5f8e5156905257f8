#include "app/plan/ask_back_card.h"

#include "app/shared/labels.h"
#include "report/take_home.h"
#include "words/day_text.h"
#include "words/words.h"

#include <QVBoxLayout>

namespace kestrel::app {

AskBackCard::AskBackCard(const records::Library& library, desk::OpenClip& open,
                         desk::OpenVisit& visit, QWidget* parent)
    : QFrame(parent), library_(library), open_(open), visit_(visit) {
    setObjectName("askBack");
    setProperty("role", "card");
    auto* column = new QVBoxLayout(this);
    heading_ = headingLabel({});
    heading_->setObjectName("askBackHeading");
    heading_->setWordWrap(true);
    column->addWidget(heading_);
    text_ = wrappedLabel("askBackText");
    text_->setTextFormat(Qt::RichText);
    column->addWidget(text_);
}

void AskBackCard::refresh() {
    const auto askBack = visit_.askBack();
    setVisible(askBack.has_value());
    if (!askBack) {
        return;
    }
    const coaching::FaultWords focus =
        coaching::wordsOf(open_.pack(), library_.planChoice(askBack->visit), askBack->focusFaultId);
    heading_->setText(tr("First: on %1 the focus was “%2”")
                          .arg(words::dayText(askBack->visit.filmed), text(focus.name)));
    QStringList lines = words::inWords(coaching::toldAskBack(open_.pack(), *askBack));
    const QString advice = lines.takeLast(); // what a hurried eye should catch
    text_->setText("<b>" + advice.toHtmlEscaped() + "</b><br>" +
                   lines.join('\n').toHtmlEscaped().replace('\n', "<br>"));
}

} // namespace kestrel::app
