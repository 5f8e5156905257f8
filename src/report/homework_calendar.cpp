#include "report/homework_calendar.h"

#include "coaching/schedule.h"
#include "words/text.h"
#include "words/words.h"

#include <QCoreApplication>

#include <libical/ical.h>

#include <algorithm>
#include <cstdlib>
#include <map>
#include <memory>

namespace kestrel::report {
namespace {

using words::text;

/// What its entries say, for translators.
class CalendarWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::CalendarWords)
};

struct FreeComponent {
    void operator()(icalcomponent* component) const { icalcomponent_free(component); }
};

/// A calendar's whole day: "20261130".
icaltimetype wholeDay(model::Day day) {
    std::string digits = day.iso();
    std::erase(digits, '-');
    return icaltime_from_string(digits.c_str());
}

icalcomponent* dayEntry(const std::string& uid, model::Day day, const std::string& summary,
                        const std::string& description, model::Day made) {
    icaltimetype stamp = wholeDay(made);
    stamp.is_date = 0;
    stamp.zone = icaltimezone_get_utc_timezone();
    return icalcomponent_vanew(
        ICAL_VEVENT_COMPONENT, icalproperty_new_uid(uid.c_str()), icalproperty_new_dtstamp(stamp),
        icalproperty_new_dtstart(wholeDay(day)),
        icalproperty_new_dtend(wholeDay(model::dayAfter(day, 1))),
        icalproperty_new_summary(summary.c_str()),
        icalproperty_new_description(description.c_str()),
        icalproperty_new_transp(ICAL_TRANSP_TRANSPARENT), static_cast<void*>(nullptr));
}

} // namespace

std::string homeworkCalendar(const std::string& player, const std::string& technique,
                             const model::VisitKey& visit, const model::Homework& homework,
                             model::Day nextVisit, const coaching::DrillLibrary& drills,
                             model::Day made) {
    const std::unique_ptr<icalcomponent, FreeComponent> calendar(icalcomponent_vanew(
        ICAL_VCALENDAR_COMPONENT, icalproperty_new_version("2.0"),
        icalproperty_new_prodid("-//Jolly Kestrel//Homework//EN"), static_cast<void*>(nullptr)));
    struct Session {
        int minutes = 0;
        std::string drills;
    };
    std::map<model::Day, Session> sessions;
    for (const model::HomeworkItem& item : homework) {
        Session& session = sessions[item.day];
        session.minutes += item.minutes;
        const auto drill = drills.find(item.drillId);
        session.drills += (session.drills.empty() ? "" : "\n") +
                          (drill == drills.end() ? item.drillId : drill->second.name) + ": " +
                          words::plain(coaching::doseOf(homework, item, drills));
    }
    const std::string ending = "-" + std::to_string(visit.playerId.value) + "-" +
                               visit.filmed.iso() + "-" + visit.techniqueId + "@jolly-kestrel";
    for (const auto& [day, session] : sessions) {
        icalcomponent_add_component(
            calendar.get(),
            dayEntry(day.iso() + ending, day,
                     CalendarWords::tr("%1: %2, %n minute(s)", nullptr, session.minutes)
                         .arg(text(player), text(technique))
                         .toStdString(),
                     session.drills, made));
    }
    if (!nextVisit.empty()) {
        icalcomponent_add_component(
            calendar.get(),
            dayEntry("next" + ending, nextVisit,
                     CalendarWords::tr("%1: film again (%2)")
                         .arg(text(player), text(technique))
                         .toStdString(),
                     CalendarWords::tr("Bring the sheet with the ticks.").toStdString(), made));
    }
    const std::unique_ptr<char, decltype(&std::free)> text(
        icalcomponent_as_ical_string_r(calendar.get()), &std::free);
    return text.get();
}

} // namespace kestrel::report
