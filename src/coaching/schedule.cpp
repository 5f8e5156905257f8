#include "coaching/schedule.h"

#include "coaching/drill_texts.h"

#include <glpk.h>

#include <algorithm>
#include <array>
#include <memory>
#include <stdexcept>

namespace kestrel::coaching {
namespace {

using model::Day;
using model::HomeworkItem;
using model::Stage;

constexpr int daysAWeek = 7;
constexpr int mostDrillsASession = 3; // more than a child keeps in mind

/// How well a drill of a place suits a stage; below nothing it is only taken when nothing else
/// fits. Working figures: only their order matters.
double suits(Stage stage, DrillPlace place) {
    constexpr std::array<std::array<double, 3>, 3> table{{
        {3.0, 2.0, -1.0}, // learn: home, aid, field
        {1.5, 3.0, 2.0},  // settle
        {0.5, 1.5, 3.0},  // play
    }};
    return table.at(static_cast<std::size_t>(stage)).at(static_cast<std::size_t>(place));
}

/// One day of the plan.
struct PlannedDay {
    Day date;
    Stage stage = Stage::learn;
    bool noThrowing = false;
};

struct Option {
    const Drill* drill = nullptr;
    bool doneBefore = false; ///< in what stays of the plan
};

Day lastDay(const model::PlanWish& wish, Day today) {
    const auto days = model::daysBetween(today, wish.nextVisit);
    return days ? model::dayAfter(wish.nextVisit, -1)
                : model::dayAfter(today, weeksWithoutVisit * daysAWeek);
}

/// Days on which a usual week asks for no throwing: game days and the rest after them.
std::set<int> weekdaysWithoutThrowing(const model::PlanWish& wish, const LoadRule& rule,
                                      std::optional<int> age) {
    std::set<int> days;
    for (const auto& [weekday, throws] : wish.throwsOn) {
        if (throws <= 0) {
            continue;
        }
        for (int after = 0; after <= restDaysAfter(rule, age, throws); ++after) {
            days.insert((weekday - 1 + after) % daysAWeek + 1);
        }
    }
    return days;
}

std::vector<PlannedDay> daysAhead(const model::PlanWish& wish, Day planned, Day today,
                                  const std::set<int>& noThrowing) {
    std::set<Day> dates;
    const Day end = lastDay(wish, planned);
    for (Day day = model::dayAfter(planned, 1); !day.empty() && day <= end;
         day = model::dayAfter(day, 1)) {
        if (wish.weekdays.contains(*model::weekdayOf(day))) {
            const auto moved = wish.moved.find(day);
            dates.insert(moved == wish.moved.end() ? day : moved->second);
        }
    }
    std::vector<PlannedDay> days;
    const double all = std::max(1, model::daysBetween(planned, end).value_or(1));
    for (Day date : dates) {
        if (date <= today || date > end) {
            continue; // gone by, or moved past the next visit
        }
        const double share = (*model::daysBetween(planned, date) - 1) / all;
        const Stage stage = share < 1.0 / 3.0   ? Stage::learn
                            : share < 2.0 / 3.0 ? Stage::settle
                                                : Stage::play;
        days.push_back({date, stage, noThrowing.contains(*model::weekdayOf(date))});
    }
    return days;
}

struct DeleteProblem {
    void operator()(glp_prob* problem) const { glp_delete_prob(problem); }
};

/// The integer program. Columns (0 or 1): drill k on day d; then one for each day that stays empty,
/// one for each drill that is never used.
class Assignment {
  public:
    Assignment(const std::vector<PlannedDay>& days, const std::vector<Option>& options, int minutes)
        : days_(days), options_(options), problem_(glp_create_prob()) {
        glp_set_obj_dir(problem_.get(), GLP_MAX);
        addColumns();
        addRows(minutes);
    }

    /// By day: indices of the drills chosen for it.
    [[nodiscard]] std::vector<std::vector<std::size_t>> solved() {
        glp_load_matrix(problem_.get(), static_cast<int>(values_.size()) - 1, rows_.data(),
                        columns_.data(), values_.data());
        glp_iocp how;
        glp_init_iocp(&how);
        how.presolve = GLP_ON;
        how.msg_lev = GLP_MSG_OFF;
        constexpr double goodEnough = 0.01; // of the best: the figures of suits() are no finer
        how.mip_gap = goodEnough;
        constexpr int mostMilliseconds = 5000;
        how.tm_lim = mostMilliseconds;
        const int ended = glp_intopt(problem_.get(), &how);
        const int status = glp_mip_status(problem_.get());
        if ((ended != 0 && ended != GLP_ETMLIM && ended != GLP_EMIPGAP) ||
            (status != GLP_OPT && status != GLP_FEAS)) {
            throw std::runtime_error("the homework plan could not be worked out");
        }
        std::vector<std::vector<std::size_t>> chosen(days_.size());
        for (std::size_t d = 0; d < days_.size(); ++d) {
            for (std::size_t k = 0; k < options_.size(); ++k) {
                constexpr double half = 0.5;
                if (glp_mip_col_val(problem_.get(), column(d, k)) > half) {
                    chosen[d].push_back(k);
                }
            }
        }
        return chosen;
    }

  private:
    [[nodiscard]] int column(std::size_t day, std::size_t option) const {
        return static_cast<int>(day * options_.size() + option) + 1;
    }
    [[nodiscard]] int emptyColumn(std::size_t day) const {
        return static_cast<int>(days_.size() * options_.size() + day) + 1;
    }
    [[nodiscard]] int unusedColumn(std::size_t option) const {
        return static_cast<int>(days_.size() * (options_.size() + 1) + option) + 1;
    }

    void addColumns() {
        const std::size_t count = days_.size() * (options_.size() + 1) + options_.size();
        glp_add_cols(problem_.get(), static_cast<int>(count));
        const auto set = [&](int number, double worth) {
            glp_set_col_kind(problem_.get(), number, GLP_BV);
            glp_set_obj_coef(problem_.get(), number, worth);
        };
        // Working figures: a day without homework is worse than any choice of drills, a drill that
        // is never done worse than a drill at the wrong stage.
        constexpr double emptyDay = -100.0;
        constexpr double unusedDrill = -20.0;
        for (std::size_t d = 0; d < days_.size(); ++d) {
            set(emptyColumn(d), emptyDay);
            for (std::size_t k = 0; k < options_.size(); ++k) {
                set(column(d, k), suits(days_[d].stage, options_[k].drill->place));
            }
        }
        for (std::size_t k = 0; k < options_.size(); ++k) {
            set(unusedColumn(k), options_[k].doneBefore ? 0.0 : unusedDrill);
        }
    }

    /// Starts a row with these bounds; at() fills it.
    int row(int kind, double low, double high) {
        const int number = glp_add_rows(problem_.get(), 1);
        glp_set_row_bnds(problem_.get(), number, kind, low, high);
        return number;
    }
    void at(int rowNumber, int columnNumber, double value) {
        rows_.push_back(rowNumber);
        columns_.push_back(columnNumber);
        values_.push_back(value);
    }

    void addRows(int minutes) {
        for (std::size_t d = 0; d < days_.size(); ++d) {
            const int time = row(GLP_UP, 0.0, minutes);
            const int number = row(GLP_UP, 0.0, mostDrillsASession);
            const int something = row(GLP_LO, 1.0, 0.0);
            const int throwing = row(GLP_UP, 0.0, days_[d].noThrowing ? 0.0 : 1.0);
            for (std::size_t k = 0; k < options_.size(); ++k) {
                at(time, column(d, k), options_[k].drill->minutes);
                at(number, column(d, k), 1.0);
                at(something, column(d, k), 1.0);
                if (options_[k].drill->throws) {
                    at(throwing, column(d, k), 1.0);
                }
            }
            at(something, emptyColumn(d), 1.0);
            if (d > 0 && model::daysBetween(days_[d - 1].date, days_[d].date) == 1) {
                const int restBetween = row(GLP_UP, 0.0, 1.0);
                for (std::size_t k = 0; k < options_.size(); ++k) {
                    if (options_[k].drill->throws) {
                        at(restBetween, column(d - 1, k), 1.0);
                        at(restBetween, column(d, k), 1.0);
                    }
                }
            }
        }
        for (std::size_t k = 0; k < options_.size(); ++k) {
            const int used = row(GLP_LO, 1.0, 0.0);
            for (std::size_t d = 0; d < days_.size(); ++d) {
                at(used, column(d, k), 1.0);
            }
            at(used, unusedColumn(k), 1.0);
        }
    }

    const std::vector<PlannedDay>& days_;
    const std::vector<Option>& options_;
    std::unique_ptr<glp_prob, DeleteProblem> problem_;
    // GLPK counts from 1: the first entries are never looked at.
    std::vector<int> rows_{0};
    std::vector<int> columns_{0};
    std::vector<double> values_{0.0};
};

/// The drills that can be done at all; says of the others why not.
std::vector<Option> possible(const DrillLibrary& drills, const std::vector<std::string>& ids,
                             const model::PlanWish& wish, const model::Homework& kept,
                             std::vector<model::Message>& remarks) {
    std::vector<Option> options;
    for (const std::string& id : ids) {
        const auto found = drills.find(id);
        if (found == drills.end()) {
            continue;
        }
        const Drill& drill = found->second;
        const auto lacking =
            std::find_if(drill.equipment.begin(), drill.equipment.end(),
                         [&](const std::string& item) { return wish.lacks.contains(item); });
        if (lacking != drill.equipment.end()) {
            remarks.push_back(
                model::message("plan.left_out_equipment", drill.name, nameOfEquipment(*lacking)));
        } else if (drill.minutes > wish.minutes) {
            remarks.push_back(model::message("plan.left_out_minutes", drill.name, drill.minutes));
        } else if (drill.place == DrillPlace::field && !wish.fieldDrills) {
            remarks.push_back(model::message("plan.left_out_field", drill.name));
        } else {
            const auto first = std::find_if(kept.begin(), kept.end(),
                                            [&](const auto& item) { return item.drillId == id; });
            options.push_back({&drill, first != kept.end()});
        }
    }
    return options;
}

} // namespace

Schedule scheduleOf(const DrillLibrary& drills, const std::vector<std::string>& drillIds,
                    const model::PlanWish& wish, const LoadRule& rule, std::optional<int> ageYears,
                    model::Day today, const model::Homework& before) {
    Schedule schedule;
    // The way began when the first session was planned.
    const Day planned =
        before.empty() ? today : std::min(today, model::dayAfter(before.front().day, -1));
    for (const HomeworkItem& item : before) {
        if (item.day <= today || !item.doneOn.empty()) {
            schedule.homework.push_back(item);
        }
    }
    std::vector<Option> options =
        possible(drills, drillIds, wish, schedule.homework, schedule.remarks);
    const std::set<int> noThrowing = weekdaysWithoutThrowing(wish, rule, ageYears);
    std::vector<PlannedDay> days = daysAhead(wish, planned, today, noThrowing);
    std::erase_if(days, [&](const PlannedDay& day) { // ticked ahead of its day
        return std::any_of(schedule.homework.begin(), schedule.homework.end(),
                           [&](const HomeworkItem& item) { return item.day == day.date; });
    });
    if (days.empty() || options.empty()) {
        schedule.remarks.push_back(model::message(days.empty() ? "plan.no_day" : "plan.no_drill"));
        return schedule;
    }
    const auto chosen = Assignment(days, options, wish.minutes).solved();
    bool throwsLeftOut = false;
    for (std::size_t d = 0; d < days.size(); ++d) {
        for (const std::size_t k : chosen[d]) {
            const Drill& drill = *options[k].drill;
            schedule.homework.push_back({days[d].date,
                                         drill.id,
                                         drill.minutes,
                                         doseFor(drill, ageYears),
                                         days[d].stage,
                                         {}});
        }
        if (days[d].noThrowing) {
            schedule.restDays.insert(days[d].date);
            throwsLeftOut =
                throwsLeftOut || std::any_of(options.begin(), options.end(),
                                             [](const Option& o) { return o.drill->throws; });
        }
        if (chosen[d].empty()) {
            schedule.remarks.push_back(model::message("plan.nothing_fits", days[d].date));
        }
    }
    if (throwsLeftOut) {
        schedule.remarks.push_back(model::message("plan.throws_kept_off", rule.name));
    }
    std::stable_sort(schedule.homework.begin(), schedule.homework.end(),
                     [](const HomeworkItem& a, const HomeworkItem& b) { return a.day < b.day; });
    return schedule;
}

model::PlanWish usualWish() {
    model::PlanWish wish;
    wish.weekdays = {1, 3, 6}; // a day of rest at least between any two
    return wish;
}

model::Message doseOf(const model::Homework& homework, const HomeworkItem& item,
                      const DrillLibrary& drills) {
    const auto drill = drills.find(item.drillId);
    const bool progresses = drill != drills.end() && !drill->second.progression.empty();
    const bool begun =
        std::any_of(homework.begin(), homework.end(), [&](const HomeworkItem& other) {
            return other.drillId == item.drillId && other.stage < item.stage;
        });
    return progresses && begun ? model::message("dose.stepped_up", item.dose)
                               : model::asItIs(item.dose);
}

model::Message nameOf(Stage stage) {
    return model::message("stage." + std::string(name(stage)));
}

std::set<std::string> equipmentFor(const DrillLibrary& drills,
                                   const std::vector<std::string>& drillIds) {
    std::set<std::string> equipment;
    for (const std::string& id : drillIds) {
        const auto drill = drills.find(id);
        if (drill != drills.end()) {
            equipment.insert(drill->second.equipment.begin(), drill->second.equipment.end());
        }
    }
    return equipment;
}

} // namespace kestrel::coaching
