#include "coaching/shot_record.h"

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

void addInterval(ShotCount& count) {
    constexpr double z = 1.959964; // of a normal distribution, 95 %
    const double n = count.tries;
    const double share = count.made / n;
    const double middle = (share + z * z / (2.0 * n)) / (1.0 + z * z / n);
    const double half =
        z / (1.0 + z * z / n) * std::sqrt(share * (1.0 - share) / n + z * z / (4.0 * n * n));
    count.low = std::max(0.0, middle - half);
    count.high = std::min(1.0, middle + half);
}

} // namespace

std::vector<ShotCount> shotRecord(const technique::Pack& pack,
                                  const std::vector<model::Rep>& reps) {
    std::vector<ShotCount> record;
    const std::string asked(wentIn);
    if (technique::findObservation(pack, asked) == nullptr) {
        return record;
    }
    const auto countOf = [&](const std::string& id, const std::string& name) {
        ShotCount count{id, name};
        for (const model::Rep& rep : reps) {
            const auto seen = rep.observations.find(asked);
            if (rep.shotType != id || seen == rep.observations.end() ||
                seen->second == model::Seen::notVisible) {
                continue;
            }
            ++count.tries;
            count.made += seen->second == model::Seen::yes ? 1 : 0;
        }
        if (count.tries > 0) {
            addInterval(count);
            record.push_back(count);
        }
    };
    for (const auto& shot : pack.shots) {
        countOf(shot.id, shot.name);
    }
    countOf({}, "anywhere");
    return record;
}

} // namespace kestrel::coaching
