#include "words/day_text.h"

#include <QLocale>

namespace kestrel::words {
namespace {

constexpr qint64 julianDayOfEpoch = 2440588; // 1 January 1970

} // namespace

QDate dateOf(model::Day day) {
    return day.empty() ? QDate() : QDate::fromJulianDay(julianDayOfEpoch + day.sinceEpoch());
}

model::Day dayOf(QDate date) {
    return date.isValid() ? model::Day(static_cast<int>(date.toJulianDay() - julianDayOfEpoch))
                          : model::Day();
}

QString dayText(model::Day day) {
    return QLocale().toString(dateOf(day), "d MMMM yyyy");
}

} // namespace kestrel::words
