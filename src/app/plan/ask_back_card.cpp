#include "app/plan/ask_back_card.h"

#include "app/plan/plan_text.h"
#include "report/take_home.h"

#include <QVBoxLayout>

namespace kestrel::app {

AskBackCard::AskBackCard(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("askBack");
    setProperty("role", "card");
    auto* column = new QVBoxLayout(this);
    heading_ = headingLabel({});
    heading_->setWordWrap(true);
    column->addWidget(heading_);
    text_ = wrappedLabel("askBackText");
    text_->setTextFormat(Qt::RichText);
    column->addWidget(text_);
}

void AskBackCard::refresh() {
    const auto askBack = session_.askBack();
    setVisible(askBack.has_value());
    if (!askBack) {
        return;
    }
    const coaching::FaultWords focus = coaching::wordsOf(
        session_.pack(), session_.library().planChoice(askBack->visit), askBack->focusFaultId);
    heading_->setText(tr("First: on %1 the focus was “%2”")
                          .arg(report::dayText(askBack->visit.filmed), planText(focus.name)));
    QStringList lines;
    for (const std::string& line : coaching::askBackText(session_.pack(), *askBack)) {
        lines << planText(line).toHtmlEscaped();
    }
    const QString advice = lines.takeLast(); // what a hurried eye should catch
    text_->setText("<b>" + advice + "</b><br>" + lines.join("<br>"));
}

} // namespace kestrel::app
