#include "app/bench/school_dialog.h"

#include "app/shared/text.h"
#include "words/words.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QLabel>
#include <QVBoxLayout>

namespace kestrel::app {
SchoolDialog::SchoolDialog(desk::OpenClip& open, desk::ClipEdits& clipEdits, QWidget* parent)
    : QDialog(parent), open_(open), clipEdits_(clipEdits) {
    setObjectName("schoolDialog");
    setWindowTitle(tr("Where coaches differ"));
    constexpr int width = 460;
    setMinimumWidth(width);
    auto* column = new QVBoxLayout(this);
    auto* about = new QLabel(tr("Good coaches answer these differently. Choose how this player is "
                                "taught; readings are judged by it at once."));
    about->setWordWrap(true);
    column->addWidget(about);
    forWhom_ = new QComboBox;
    forWhom_->setObjectName("schoolForWhom");
    forWhom_->setAccessibleName(tr("For whom"));
    forWhom_->addItem(tr("for this player"), static_cast<int>(desk::ForWhom::player));
    forWhom_->addItem(tr("for this visit only"), static_cast<int>(desk::ForWhom::visit));
    forWhom_->addItem(tr("for this rep only"), static_cast<int>(desk::ForWhom::rep));
    column->addWidget(forWhom_);
    auto* holder = new QWidget;
    questions_ = new QVBoxLayout(holder);
    questions_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(holder);
    changes_ = new QLabel;
    changes_->setObjectName("schoolChanges");
    changes_->setWordWrap(true);
    column->addWidget(changes_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::close);
    column->addWidget(buttons);
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] {
        build();
        showChanges();
    });
    connect(&open_, &desk::OpenClip::closed, this, &QDialog::close);
    build();
    showChanges();
}

void SchoolDialog::build() {
    while (QLayoutItem* old = questions_->takeAt(0)) {
        old->widget()->hide();
        old->widget()->deleteLater();
        delete old;
    }
    const technique::Pack& pack = open_.pack();
    const auto inForce = technique::schoolsInForce(pack, open_.circumstances().schools);
    for (const technique::SchoolQuestion& question : pack.schools) {
        auto* asks = new QLabel("<b>" + text(question.text).toHtmlEscaped() + "</b>");
        asks->setWordWrap(true);
        questions_->addWidget(asks);
        auto* box = new QComboBox;
        box->setObjectName("choose_" + text(question.id));
        box->setAccessibleName(text(question.text));
        QString why;
        for (const technique::SchoolOption& option : question.options) {
            const bool usual = option.id == question.defaultOption;
            box->addItem(usual ? tr("%1 (usual)").arg(text(option.name)) : text(option.name),
                         text(option.id));
            if (inForce.contains(option.id)) {
                box->setCurrentIndex(box->count() - 1);
            }
            why += "<b>" + text(option.name).toHtmlEscaped() + ":</b> " +
                   text(option.why).toHtmlEscaped() + "<br>";
        }
        connect(box, &QComboBox::activated, this, [this, box, question] {
            clipEdits_.setSchool(question, box->currentData().toString().toStdString(),
                                 static_cast<desk::ForWhom>(forWhom_->currentData().toInt()));
        });
        questions_->addWidget(box);
        auto* because = new QLabel(why + text(question.reason).toHtmlEscaped());
        because->setWordWrap(true);
        questions_->addWidget(because);
    }
    if (pack.schools.empty()) {
        questions_->addWidget(new QLabel(tr("This technique's pack names no such question.")));
    }
}

void SchoolDialog::showChanges() {
    const auto says = words::inWords(coaching::toldChanges(open_.pack(), open_.changes()));
    QString html;
    for (const QString& one : says) {
        html += "<li>" + one.toHtmlEscaped() + "</li>";
    }
    changes_->setText(html.isEmpty()
                          ? tr("Nothing is judged differently so far.")
                          : tr("<b>What changed on this rep:</b>") + "<ul>" + html + "</ul>");
}

} // namespace kestrel::app
