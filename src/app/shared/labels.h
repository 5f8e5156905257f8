#pragma once

#include "app/shared/text.h"

#include <QLabel>
#include <QLayout>
#include <QToolButton>
#include <QWidget>

/// Labels and rows as the stations make them.
namespace kestrel::app {

inline QLabel* wrappedLabel(const char* name) {
    auto* label = new QLabel;
    label->setObjectName(name);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

inline QLabel* headingLabel(const QString& words) {
    auto* label = new QLabel(words);
    label->setProperty("role", "heading");
    return label;
}

/// A button of a row, with a tip that screen readers say, too.
inline QToolButton* smallButton(const QString& words, const QString& name, const QString& tip) {
    auto* button = new QToolButton;
    button->setText(words);
    button->setObjectName(name);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    return button;
}

/// Removes all rows; old ones vanish at once.
inline void clearRows(QLayout* rows) {
    while (QLayoutItem* old = rows->takeAt(0)) {
        if (old->widget() != nullptr) {
            old->widget()->hide();
            old->widget()->deleteLater();
        }
        delete old;
    }
}

} // namespace kestrel::app
