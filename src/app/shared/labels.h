#pragma once

#include "app/shared/text.h"

#include <QLabel>
#include <QLayout>
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
