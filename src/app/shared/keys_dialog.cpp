#include "app/shared/keys_dialog.h"

#include "app/shared/labels.h"
#include "words/keys.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace kestrel::app {
namespace {

QString keysOf(const words::KeyRow& row) {
    constexpr qsizetype most = 2; // others are the same sign on other keyboards
    return words::keyNames(row).mid(0, most).join(KeysDialog::tr("  or  "));
}

QWidget* pageOf(words::Where where, const QString& heading) {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(14);
    grid->addWidget(headingLabel(heading), 0, 0, 1, 2);
    int at = 1;
    for (const words::KeyRow& row : words::keyTable()) {
        if (row.where == where) {
            auto* key = new QLabel("<b>" + keysOf(row).toHtmlEscaped() + "</b>");
            auto* words = new QLabel(row.words);
            grid->addWidget(key, at, 0, Qt::AlignTop);
            grid->addWidget(words, at++, 1, Qt::AlignTop);
        }
    }
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(at, 1);
    return page;
}

} // namespace

KeysDialog::KeysDialog(QWidget* parent) : QDialog(parent) {
    setObjectName("keysDialog");
    setWindowTitle(tr("Keys"));
    constexpr int width = 920;
    setMinimumWidth(width);
    auto* column = new QVBoxLayout(this);
    auto* row = new QHBoxLayout;
    row->setSpacing(24);
    auto* left = new QVBoxLayout;
    left->addWidget(pageOf(words::Where::anywhere, tr("Everywhere")));
    left->addWidget(pageOf(words::Where::onFilm, tr("On a film: Film, Bench and Compare")));
    left->addWidget(pageOf(words::Where::onMarks, tr("On Bench and Compare")));
    left->addWidget(pageOf(words::Where::onCompare, tr("On Compare")), 1);
    row->addLayout(left, 2);
    row->addWidget(pageOf(words::Where::onBench, tr("On the Bench")), 3);
    column->addLayout(row);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::close);
    column->addWidget(buttons);
}

} // namespace kestrel::app
