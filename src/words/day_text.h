#pragma once

#include "model/day.h"

#include <QDate>
#include <QString>

/// Days as Qt has them and as they are read.
namespace kestrel::words {

/// Not valid for none.
QDate dateOf(model::Day day);
/// None for a date that is not valid.
model::Day dayOf(QDate date);

/// "9 May 2026"; empty for none.
QString dayText(model::Day day);

} // namespace kestrel::words
