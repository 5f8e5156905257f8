#include "technique/pack/pack_check.h"

#include "motion/body_segments.h"
#include "motion/heading.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/json_file.h"
#include "technique/pack/known_length.h"
#include "technique/pack/pack_json.h"
#include "technique/pack/roles.h"
#include "technique/positions/find_positions.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kestrel::technique {
namespace {

class Check {
  public:
    explicit Check(const Pack& pack) : pack_(pack) {}

    void all() const {
        unique(pack_.positions, "/positions");
        unique(pack_.measures, "/measures");
        unique(pack_.observations, "/observations");
        unique(pack_.faults, "/faults");
        unique(pack_.shots, "/shots");
        needPosition(pack_.anchor, "/anchor");
        needPosition(pack_.filming.fastest.at, "/filming/fastest/at");
        positions();
        schools();
        places();
        sequence();
        needPosition(pack_.bodyHeight.at, "/body_height/at");
        points(pack_.bodyHeight.path, pack_.bodyHeight.at, "/body_height/path");
        for (std::size_t i = 0; i < pack_.measures.size(); ++i) {
            measure(pack_.measures[i], "/measures/" + std::to_string(i));
        }
        for (std::size_t i = 0; i < pack_.observations.size(); ++i) {
            needPosition(pack_.observations[i].at, "/observations/" + std::to_string(i) + "/at");
        }
        for (std::size_t i = 0; i < pack_.faults.size(); ++i) {
            fault(pack_.faults[i], "/faults/" + std::to_string(i));
        }
        std::set<std::string> path;
        std::set<std::string> settled;
        for (const FaultDefinition& f : pack_.faults) {
            noCircle(f, path, settled);
        }
    }

  private:
    [[noreturn]] void fail(const std::string& place, model::Message reason) const {
        throw dataError(pack_.file, place, std::move(reason));
    }

    template <class T> void unique(const std::vector<T>& items, const std::string& place) const {
        std::set<std::string> seen;
        for (std::size_t i = 0; i < items.size(); ++i) {
            if (!seen.insert(items[i].id).second) {
                fail(place + "/" + std::to_string(i) + "/id",
                     model::message("pack.id_twice", items[i].id));
            }
        }
    }

    void needPosition(const std::string& id, const std::string& place) const {
        if (findPosition(pack_, id) == nullptr) {
            fail(place, model::message("pack.no_position", id));
        }
    }

    void needLandmark(const std::string& roleName, const std::string& place) const {
        if (!landmarkForRole(pack_, roleName, model::Hand::right)) {
            fail(place, model::message("pack.no_landmark", roleName));
        }
    }

    void positions() const {
        for (std::size_t i = 0; i < pack_.positions.size(); ++i) {
            const Position& position = pack_.positions[i];
            for (std::size_t l = 0; l < position.landmarks.size(); ++l) {
                needLandmark(position.landmarks[l],
                             "/positions/" + std::to_string(i) + "/landmarks/" + std::to_string(l));
            }
            if (position.learned && !isKnown(position.id)) {
                fail("/positions/" + std::to_string(i) + "/learned",
                     model::message("pack.not_learned"));
            }
            for (std::size_t d = 0; d < position.foundBy.size(); ++d) {
                detector(position.foundBy[d],
                         "/positions/" + std::to_string(i) + "/found_by/" + std::to_string(d));
            }
        }
        std::set<std::string> path;
        std::set<std::string> settled;
        for (const Position& position : pack_.positions) {
            noCircle(position, path, settled);
        }
    }

    void detector(const Detector& d, const std::string& place) const {
        for (const std::string& other : positionsUsedBy(d)) {
            needPosition(other, place);
        }
        const auto* wanted = std::get_if<SignalInstant>(&d.finds);
        if (wanted == nullptr) {
            return;
        }
        const Signal& signal = wanted->signal;
        const std::size_t needed = signal.kind == nullptr ? 1 : signal.kind->pointCount;
        const auto* instant = signal.kind == nullptr ? nullptr : signal.kind->as<InstantKind>();
        if (signal.kind != nullptr && (instant == nullptr || instant->needsBone)) {
            fail(place, model::message("pack.no_signal", signal.kind->id));
        }
        if (signal.points.size() != needed) {
            fail(place, model::message("pack.signal_points", needed, signal.points.size()));
        }
        for (const PointExpression& point : signal.points) {
            for (const auto& [roleName, weight] : point.terms) {
                needLandmark(roleName, place);
            }
        }
    }

    /// To the network.
    [[nodiscard]] bool isKnown(const std::string& position) const {
        const LearnedTechnique* learned = learnedTechnique(pack_);
        return learned != nullptr && std::find(learned->positions.begin(), learned->positions.end(),
                                               position) != learned->positions.end();
    }

    /// `settled` are those already known to hang on no circle: each is looked at once.
    void noCircle(const Position& position, std::set<std::string>& path,
                  std::set<std::string>& settled) const {
        if (settled.contains(position.id)) {
            return;
        }
        if (!path.insert(position.id).second) {
            fail("/positions", model::message("pack.search_circle", position.id));
        }
        for (const Detector& d : position.foundBy) {
            for (const std::string& other : positionsUsedBy(d)) {
                noCircle(*findPosition(pack_, other), path, settled);
            }
        }
        path.erase(position.id);
        settled.insert(position.id);
    }

    void places() const {
        unique(pack_.places, "/places");
        for (std::size_t i = 0; i < pack_.places.size(); ++i) {
            const GroundPlace& place = pack_.places[i];
            const std::string here = "/places/" + std::to_string(i);
            unique(place.points, here + "/points");
            unique(place.lines, here + "/lines");
            if (place.id == ownRectangle || place.id == knownLength) {
                fail(here + "/id", model::message("pack.place_taken", place.id));
            }
            for (std::size_t l = 0; l < place.lines.size(); ++l) {
                if (place.lines[l].from == place.lines[l].to) {
                    fail(here + "/lines/" + std::to_string(l), model::message("pack.no_line"));
                }
            }
        }
    }

    void sequence() const {
        if (!pack_.sequence) {
            return;
        }
        const Sequence& s = *pack_.sequence;
        needPosition(s.from, "/sequence/from");
        needPosition(s.at, "/sequence/at");
        unique(s.links, "/sequence/links");
        constexpr std::size_t ofJoint = 3;
        for (std::size_t i = 0; i < s.links.size(); ++i) {
            const SequenceLink& link = s.links[i];
            const std::string here = "/sequence/links/" + std::to_string(i) + "/points";
            constexpr std::size_t ofLine = 2;
            const std::size_t needed = link.of == SequenceLink::Of::opening   ? ofJoint
                                       : link.of == SequenceLink::Of::turning ? ofLine
                                                                              : 1;
            if (link.points.size() != needed) {
                fail(here, model::message("pack.link_points", needed, link.points.size()));
            }
            for (const PointExpression& point : link.points) { // followed, not placed at a position
                for (const auto& [roleName, weight] : point.terms) {
                    needLandmark(roleName, here);
                }
            }
            if (link.of == SequenceLink::Of::turning &&
                !lineThroughBody(link.points[0], link.points[1])) {
                fail(here, model::message("pack.turning_link_ends"));
            }
        }
    }

    void needLine(const Measure& m, const std::string& place) const {
        const bool known =
            std::any_of(pack_.places.begin(), pack_.places.end(), [&](const GroundPlace& p) {
                return std::any_of(p.lines.begin(), p.lines.end(),
                                   [&](const GroundLine& line) { return line.id == m.line; });
            });
        if (!known) {
            fail(place + "/line", model::message("pack.needs_line", m.kind->id));
        }
    }

    void schools() const {
        for (std::size_t i = 0; i < pack_.schools.size(); ++i) {
            const SchoolQuestion& q = pack_.schools[i];
            unique(q.options, "/schools/" + std::to_string(i) + "/options");
            if (std::none_of(q.options.begin(), q.options.end(),
                             [&](const SchoolOption& o) { return o.id == q.defaultOption; })) {
                fail("/schools/" + std::to_string(i) + "/default",
                     model::message("pack.no_option", q.defaultOption));
            }
        }
    }

    void points(const std::vector<PointExpression>& list, const std::string& at,
                const std::string& place) const {
        for (std::size_t i = 0; i < list.size(); ++i) {
            const std::string here = place + "/" + std::to_string(i);
            const std::string& where = list[i].position.empty() ? at : list[i].position;
            needPosition(where, here);
            const Position& position = *findPosition(pack_, where);
            double weights = 0.0;
            for (const auto& [roleName, weight] : list[i].terms) {
                needLandmark(roleName, here);
                weights += weight;
                // Nobody places a whole body for its centre of mass: that is the machine's part.
                if (!list[i].isCentreOfMass &&
                    std::find(position.landmarks.begin(), position.landmarks.end(), roleName) ==
                        position.landmarks.end()) {
                    fail(here, model::message("pack.not_listed", roleName, where));
                }
            }
            constexpr double rounding = 1e-9;
            if (std::abs(weights - 1.0) > rounding) {
                fail(here, model::message("pack.weights"));
            }
        }
    }

    [[nodiscard]] bool boneBetween(const PointExpression& a, const PointExpression& b) const {
        const auto end = [&](const PointExpression& point) {
            return landmarkForRole(pack_, point.terms.front().first, model::Hand::right);
        };
        return a.terms.size() == 1 && b.terms.size() == 1 &&
               motion::segmentFraction(*end(a), *end(b)).has_value();
    }

    [[nodiscard]] bool lineThroughBody(const PointExpression& a, const PointExpression& b) const {
        const auto end = [&](const PointExpression& point) {
            return landmarkForRole(pack_, point.terms.front().first, model::Hand::right);
        };
        return a.terms.size() == 1 && b.terms.size() == 1 &&
               motion::breadthFraction(*end(a), *end(b)).has_value();
    }

    void measure(const Measure& m, const std::string& place) const {
        needPosition(m.at, place + "/at");
        if (m.kind->as<TimeKind>() != nullptr || m.kind->as<CountedKind>() != nullptr) {
            if (m.from.empty()) {
                fail(place, model::message("pack.time_from"));
            }
            needPosition(m.from, place + "/from");
        } else if (m.points.size() != m.kind->pointCount) {
            fail(place + "/points",
                 model::message("pack.points", m.kind->id, m.kind->pointCount,
                                model::message(m.kind->pointNames), m.points.size()));
        } else if (m.views.empty()) {
            fail(place + "/views", model::message("pack.views"));
        }
        const auto* course = m.kind->as<CourseKind>();
        const bool turning = m.kind->as<TurningKind>() != nullptr;
        if (course != nullptr || turning || m.kind->as<SpacePathKind>() != nullptr) {
            if (m.from.empty()) {
                fail(place, model::message("pack.needs_from", m.kind->id));
            }
            needPosition(m.from, place + "/from");
            if (course != nullptr && course->onLevelPlane && m.heightBh <= 0.0) {
                fail(place, model::message("pack.needs_height", m.kind->id));
            }
            for (const PointExpression& point : m.points) { // followed, not placed at a position
                for (const auto& [roleName, weight] : point.terms) {
                    needLandmark(roleName, place + "/points");
                }
            }
        } else if (m.kind->as<FlightKind>() != nullptr) {
            if (m.points[0].terms.size() != 1) {
                fail(place + "/points/0", model::message("pack.ball"));
            }
            needLandmark(m.points[0].terms.front().first, place + "/points/0");
            points({m.points[1]}, m.at, place + "/points");
        } else {
            points(m.points, m.at, place + "/points");
        }
        if (const auto* ground = m.kind->as<GroundKind>(); ground != nullptr && ground->needsLine) {
            needLine(m, place);
        }
        const auto* instant = m.kind->as<InstantKind>();
        if (instant != nullptr && instant->needsBone && !boneBetween(m.points[0], m.points[1])) {
            fail(place + "/points", model::message("pack.needs_bone", m.kind->id));
        }
        const bool ofLines = m.kind->as<HeadingKind>() != nullptr || turning;
        for (std::size_t i = 0; ofLines && i + 1 < m.points.size(); i += 2) {
            if (!lineThroughBody(m.points[i], m.points[i + 1])) {
                fail(place + "/points", model::message("pack.needs_hips_or_shoulders", m.kind->id));
            }
        }
        if (!m.minus.empty() && instant == nullptr) {
            fail(place + "/minus", model::message("pack.not_subtracted", m.kind->id));
        }
        if (!m.minus.empty()) {
            needPosition(m.minus, place + "/minus");
            points(m.points, m.minus, place + "/points");
        }
        for (std::size_t i = 0; i < m.ranges.size(); ++i) {
            range(m.ranges[i], place + "/ranges/" + std::to_string(i));
        }
    }

    void range(const MeasureRange& r, const std::string& place) const {
        if (!r.good.low && !r.good.high) {
            fail(place + "/good", model::message("pack.range_empty"));
        }
        if (r.good.low && r.good.high && *r.good.low >= *r.good.high) {
            fail(place + "/good", model::message("pack.range_turned"));
        }
        if (!r.school.empty() && findSchool(pack_, r.school) == nullptr) {
            fail(place + "/school", model::message("pack.no_school", r.school));
        }
        const bool knownVariant =
            r.variant.empty() || std::any_of(pack_.variants.begin(), pack_.variants.end(),
                                             [&](const Variant& v) { return v.id == r.variant; });
        const bool knownShot =
            r.shot.empty() || std::any_of(pack_.shots.begin(), pack_.shots.end(),
                                          [&](const Shot& s) { return s.id == r.shot; });
        if (!knownShot) {
            fail(place + "/shot", model::message("pack.no_shot", r.shot));
        }
        if (!knownVariant) {
            fail(place + "/variant", model::message("pack.no_variant", r.variant));
        }
    }

    void fault(const FaultDefinition& f, const std::string& place) const {
        needPosition(f.at, place + "/at");
        for (const Sign& sign : f.signs) {
            const bool known = sign.is == Sign::Is::denied
                                   ? findObservation(pack_, sign.measure) != nullptr
                                   : findMeasure(pack_, sign.measure) != nullptr;
            if (!known) {
                fail(place + "/signs", model::message("pack.no_sign", sign.measure));
            }
        }
        for (const std::string& next : f.leadsTo) {
            if (findFault(pack_, next) == nullptr) {
                fail(place + "/leads_to", model::message("pack.no_fault", next));
            }
        }
        if (!f.school.empty() && findSchool(pack_, f.school) == nullptr) {
            fail(place + "/school", model::message("pack.no_school", f.school));
        }
    }

    void noCircle(const FaultDefinition& f, std::set<std::string>& path,
                  std::set<std::string>& settled) const {
        if (settled.contains(f.id)) {
            return;
        }
        if (!path.insert(f.id).second) {
            fail("/faults", model::message("pack.chain_circle", f.id));
        }
        for (const std::string& next : f.leadsTo) {
            noCircle(*findFault(pack_, next), path, settled);
        }
        path.erase(f.id);
        settled.insert(f.id);
    }

    const Pack& pack_;
};

/// What the network of `file` knows of the technique, as that of the pack.
std::shared_ptr<const PositionNetwork> networkFor(const Pack& pack, const std::string& technique,
                                                  const std::filesystem::path& file) {
    PositionNetwork network = readPositionNetwork(file);
    auto learned = network.techniques.extract(technique);
    network.techniques.clear();
    if (!learned.empty()) {
        learned.key() = pack.id;
        network.techniques.insert(std::move(learned));
    }
    return std::make_shared<const PositionNetwork>(std::move(network));
}

} // namespace

void checkPack(const Pack& pack) {
    Check(pack).all();
}

Pack loadPack(const std::filesystem::path& file, const std::filesystem::path& schemaFile) {
    return packFromText(readText(file), file, schemaFile);
}

Pack packFromText(const std::string& text, const std::filesystem::path& file,
                  const std::filesystem::path& schemaFile) {
    const nlohmann::json content = parseJson(text, file);
    checkJson(content, file, schemaFile);
    Pack pack = packFromJson(content, file);
    pack.text = text;
    if (std::any_of(pack.positions.begin(), pack.positions.end(),
                    [](const Position& p) { return p.learned; })) {
        const std::string technique = content.value("learned_as", pack.id);
        pack.network =
            networkFor(pack, technique, schemaFile.parent_path().parent_path() / "positions.net");
    }
    checkPack(pack);
    return pack;
}

} // namespace kestrel::technique
