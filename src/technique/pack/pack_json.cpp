#include "technique/pack/pack_json.h"

#include "motion/centre_of_mass.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/json_file.h"
#include "technique/pack/roles.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

using nlohmann::json;

/// The name of the signal that is no measure kind.
constexpr const char* speedSignal = "speed";

std::string text(const json& object, const char* key) {
    return object.value(key, std::string());
}

std::vector<std::string> texts(const json& object, const char* key) {
    return object.value(key, std::vector<std::string>());
}

class PackReader {
  public:
    explicit PackReader(const std::filesystem::path& file) : file_(file) {}

    Pack read(const json& j) {
        Pack pack;
        pack.file = file_;
        pack.id = j.at("id");
        pack.version = j.at("version");
        pack.name = j.at("name");
        pack.sport = j.at("sport");
        pack.basedOn = text(j, "based_on");
        pack.anchor = j.at("anchor");
        pack.onSkates = j.value("on_skates", false);
        pack.sideOnAtSetUp = j.value("side_on_at_set_up", false);
        for (const std::string& thing : texts(j, "things")) {
            pack.things.push_back(*model::landmarkFromName(thing)); // the schema knows the names
        }
        for (const json& v : j.at("variants")) {
            pack.variants.push_back({v.at("id"), v.at("name")});
        }
        for (const json& shot : j.value("shots", json::array())) {
            pack.shots.push_back({shot.at("id"), shot.at("name")});
        }
        for (const auto& [role, side] : j.at("roles").items()) {
            pack.roles[role] = side == "dominant" ? RoleSide::dominant : RoleSide::other;
        }
        for (const auto& [name, terms] : j.at("points").items()) {
            auto& weighted = points_[name];
            for (const auto& [landmark, weight] : terms.items()) {
                weighted.emplace_back(landmark, weight.get<double>());
            }
        }
        for (const json& s : j.at("schools")) {
            pack.schools.push_back(school(s));
        }
        for (const json& p : j.at("positions")) {
            pack.positions.push_back(position(p));
        }
        bodyPoints_ = rolesOfBodyPoints(pack); // detectors and measures may name any of them
        for (std::size_t i = 0; i < pack.positions.size(); ++i) {
            pack.positions[i].foundBy =
                detectors(j.at("positions")[i], "/positions/" + std::to_string(i) + "/found_by/");
        }
        const json& height = j.at("body_height");
        pack.bodyHeight = {height.at("at"), pointList(height.at("path")), height.at("fraction"),
                           height.at("relative_sd")};
        for (const json& p : j.value("places", json::array())) {
            pack.places.push_back(groundPlace(p));
        }
        if (j.contains("ball")) {
            const json& b = j.at("ball");
            pack.ball = PlayedBall{b.at("mass_kg"),
                                   b.at("diameter_m"),
                                   b.at("drag_coefficient"),
                                   b.at("drag_relative_sd"),
                                   b.at("beside_bh"),
                                   b.at("beside_sd_bh"),
                                   b.value("heading_deg", PlayedBall().headingDeg),
                                   b.value("heading_sd_deg", PlayedBall().headingSdDeg),
                                   b.at("basis")};
        }
        if (j.contains("target")) {
            pack.target = target(j.at("target"));
        }
        if (j.contains("sequence")) {
            pack.sequence = sequence(j.at("sequence"));
        }
        std::size_t number = 0;
        for (const json& m : j.at("measures")) {
            pack.measures.push_back(measure(m, "/measures/" + std::to_string(number++)));
        }
        for (const json& o : j.at("observations")) {
            pack.observations.push_back({o.at("id"), o.at("at"), o.at("question")});
        }
        for (const json& f : j.at("faults")) {
            pack.faults.push_back(fault(f));
        }
        pack.cautions = texts(j, "cautions");
        pack.filming = filming(j.at("filming"));
        return pack;
    }

  private:
    /// What the pack calls each landmark of the body: as its positions list it, else by the first
    /// role that fits. Roles follow the hand, so any hand serves.
    static std::map<model::Landmark, std::string> rolesOfBodyPoints(const Pack& pack) {
        std::map<model::Landmark, std::string> names;
        for (const auto& [landmark, weight] : motion::centreOfMassWeights()) {
            const auto listing = std::find_if(
                pack.positions.begin(), pack.positions.end(), [&, l = landmark](const auto& p) {
                    return std::any_of(
                        p.landmarks.begin(), p.landmarks.end(), [&](const std::string& name) {
                            return landmarkForRole(pack, name, model::Hand::right) == l;
                        });
                });
            names[landmark] = roleName(pack, listing == pack.positions.end() ? nullptr : &*listing,
                                       landmark, model::Hand::right);
        }
        return names;
    }

    /// "lead_knee", "mid_hip", "centre_of_mass" or any with "@position".
    PointExpression point(const std::string& written) const {
        PointExpression expression;
        const std::size_t at = written.find('@');
        const std::string name = written.substr(0, at);
        if (at != std::string::npos) {
            expression.position = written.substr(at + 1);
        }
        if (name == centreOfMassPoint) {
            expression.isCentreOfMass = true;
            for (const auto& [landmark, weight] : motion::centreOfMassWeights()) {
                expression.terms.emplace_back(bodyPoints_.at(landmark), weight);
            }
        } else if (const auto combined = points_.find(name); combined != points_.end()) {
            expression.terms = combined->second;
        } else {
            expression.terms = {{name, 1.0}};
        }
        return expression;
    }

    std::vector<PointExpression> pointList(const json& names) const {
        std::vector<PointExpression> list;
        for (const json& name : names) {
            list.push_back(point(name.get<std::string>()));
        }
        return list;
    }

    const MeasureKind& kind(const json& named, const std::string& place) const {
        const auto id = named.get<std::string>();
        const MeasureKind* found = findKind(id);
        if (found == nullptr) {
            throw dataError(file_, place, model::message("pack.no_kind", id));
        }
        return *found;
    }

    static Position position(const json& p) {
        return {p.at("id"),
                p.at("name"),
                p.at("definition"),
                text(p, "look_for"),
                texts(p, "landmarks"),
                p.value("event", false),
                p.at("lasts_ms"),
                p.value("learned", false),
                {}};
    }

    std::vector<Detector> detectors(const json& p, const std::string& place) const {
        std::vector<Detector> result;
        for (const json& d : p.value("found_by", json::array())) {
            result.push_back(detector(d, place + std::to_string(result.size())));
        }
        return result;
    }

    static model::Seconds milliseconds(const json& object, const char* key) {
        constexpr double perSecond = 1000.0;
        return model::Seconds(object.value(key, 0.0) / perSecond);
    }

    Detector detector(const json& d, const std::string& place) const {
        Detector result;
        for (const std::string& view : texts(d, "views")) {
            result.views.push_back(*model::viewFromName(view));
        }
        result.after = milliseconds(d, "after_ms");
        result.sd = milliseconds(d, "sd_ms");
        result.basis = d.at("basis");
        if (d.contains("way")) {
            const json& way = d.at("way");
            result.finds = ShareOfWay{way.at("from"), way.at("to"), way.at("share")};
        } else {
            result.finds = signalInstant(d, place);
        }
        return result;
    }

    SignalInstant signalInstant(const json& d, const std::string& place) const {
        using Is = SignalInstant::Is;
        SignalInstant result;
        for (const auto& [key, is] : {std::pair{"highest", Is::highest},
                                      {"lowest", Is::lowest},
                                      {"rises", Is::rises},
                                      {"falls", Is::falls}}) {
            if (d.contains(key)) {
                result.is = is;
                const json& signal = d.at(key);
                result.signal.points = pointList(signal.at("points"));
                if (signal.at("kind") != speedSignal) {
                    result.signal.kind = &kind(signal.at("kind"), place + "/" + key + "/kind");
                }
            }
        }
        result.signal.halfWidth = milliseconds(d, "smooth_ms");
        result.level = d.value("through", 0.0);
        result.levelIsShare = text(d, "level_is") == "share";
        result.last = text(d, "which") == "last";
        const auto edge = [&](const char* key) -> std::optional<SearchEdge> {
            if (!d.contains(key)) {
                return std::nullopt;
            }
            return SearchEdge{d.at(key).at("position"), milliseconds(d.at(key), "after_ms")};
        };
        result.from = edge("from");
        result.to = edge("to");
        return result;
    }

    static SchoolQuestion school(const json& s) {
        SchoolQuestion question{s.at("id"), s.at("text"), {}, s.at("default"), s.at("reason")};
        for (const json& o : s.at("options")) {
            question.options.push_back({o.at("id"), o.at("name"), o.at("why")});
        }
        return question;
    }

    static GroundPlace groundPlace(const json& p) {
        GroundPlace place;
        place.id = p.at("id");
        place.name = model::asItIs(p.at("name").get<std::string>());
        place.basis = p.at("basis");
        for (const json& point : p.at("points")) {
            place.points.push_back(
                {point.at("id"),
                 model::asItIs(point.at("name").get<std::string>()),
                 {point.at("at").at(0).get<double>(), point.at("at").at(1).get<double>()}});
        }
        for (const json& line : p.value("lines", json::array())) {
            place.lines.push_back(
                {line.at("id"),
                 {line.at("from").at(0).get<double>(), line.at("from").at(1).get<double>()},
                 {line.at("to").at(0).get<double>(), line.at("to").at(1).get<double>()}});
        }
        return place;
    }

    static Target target(const json& t) {
        Target result{t.at("name"), text(t, "line"), {}, t.at("basis")};
        for (const json& d : t.at("distances")) {
            Target::Distance distance;
            distance.metres = d.at("m");
            distance.ages = ages(d);
            result.distances.push_back(distance);
        }
        return result;
    }

    static SequenceLink::Of linkOf(const std::string& name) {
        if (name == "opening") {
            return SequenceLink::Of::opening;
        }
        return name == "turning" ? SequenceLink::Of::turning : SequenceLink::Of::speed;
    }

    Sequence sequence(const json& s) const {
        Sequence result;
        result.from = s.at("from");
        result.fromAfter = milliseconds(s, "from_after_ms");
        result.at = s.at("at");
        result.atAfter = milliseconds(s, "at_after_ms");
        for (const std::string& view : texts(s, "views")) {
            result.views.push_back(*model::viewFromName(view));
        }
        for (const json& link : s.at("links")) {
            result.links.push_back({link.at("id"), link.at("name"), linkOf(link.at("of")),
                                    pointList(link.at("points"))});
        }
        result.note = text(s, "note");
        return result;
    }

    static AgeSpan ages(const json& object) {
        AgeSpan span;
        if (object.contains("age_from")) {
            span.from = object.at("age_from").get<int>();
        }
        if (object.contains("age_to")) {
            span.to = object.at("age_to").get<int>();
        }
        return span;
    }

    static model::Range range(const json& bounds) {
        model::Range result;
        if (!bounds.at(0).is_null()) {
            result.low = bounds.at(0).get<double>();
        }
        if (!bounds.at(1).is_null()) {
            result.high = bounds.at(1).get<double>();
        }
        return result;
    }

    Measure measure(const json& m, const std::string& place) const {
        Measure result;
        result.id = m.at("id");
        result.name = m.at("name");
        result.plain = m.at("plain");
        result.at = m.at("at");
        result.from = text(m, "from");
        result.fromAfter = milliseconds(m, "from_after_ms");
        result.atAfter = milliseconds(m, "at_after_ms");
        result.kind = &kind(m.at("kind"), place + "/kind");
        result.unit = result.kind->unit;
        if (const auto unit = model::unitFromName(text(m, "unit"))) {
            result.unit = *unit;
        }
        if (m.contains("points")) {
            result.points = pointList(m.at("points"));
        }
        result.line = text(m, "line");
        result.minus = text(m, "minus");
        result.absolute = m.value("absolute", false);
        for (const std::string& view : texts(m, "views")) {
            result.views.push_back(*model::viewFromName(view));
        }
        for (const json& r : m.value("ranges", json::array())) {
            MeasureRange one;
            one.good = range(r.at("good"));
            one.school = text(r, "school");
            one.variant = text(r, "variant");
            one.shot = text(r, "shot");
            one.ages = ages(r);
            one.basis = r.at("basis");
            result.ranges.push_back(std::move(one));
        }
        result.outOfPlaneDeg = m.value("out_of_plane_deg", 0.0);
        result.depthBh = m.value("depth_bh", 0.0);
        result.heightBh = m.value("height_bh", 0.0);
        result.typicalRate = m.value("typical_rate", 0.0);
        result.note = text(m, "note");
        return result;
    }

    static Filming filming(const json& f) {
        Filming result;
        result.advice = texts(f, "advice");
        result.view = *model::viewFromName(f.at("view").get<std::string>());
        result.cameraHeightBh = f.at("camera_height_bh");
        result.widthBh = f.at("width_bh");
        result.lowestRate = f.at("lowest_rate");
        result.goodRate = f.at("good_rate");
        result.secondView = model::viewFromName(text(f, "second_view"));
        result.secondViewFor = text(f, "second_view_for");
        const json& fastest = f.at("fastest");
        result.fastest = {fastest.at("part"),       fastest.at("at"),         fastest.at("segment"),
                          fastest.at("speed_bh_s"), fastest.at("segment_bh"), fastest.at("basis")};
        return result;
    }

    static FaultDefinition fault(const json& f) {
        FaultDefinition result;
        result.id = f.at("id");
        result.name = f.at("name");
        result.meaning = f.at("meaning");
        result.at = f.at("at");
        result.allSigns = f.at("signs").contains("all");
        for (const json& s : f.at("signs").at(result.allSigns ? "all" : "any")) {
            const std::string is = s.at("is");
            const Sign::Is kind = is == "above"     ? Sign::Is::above
                                  : is == "below"   ? Sign::Is::below
                                  : is == "outside" ? Sign::Is::outside
                                                    : Sign::Is::denied;
            result.signs.push_back({s.at("of"), kind});
        }
        result.leadsTo = texts(f, "leads_to");
        result.school = text(f, "school");
        result.caution = text(f, "caution");
        result.safety = f.value("safety", false);
        result.cues = texts(f, "cues");
        result.drills = texts(f, "drills");
        return result;
    }

    std::filesystem::path file_;
    std::map<std::string, std::vector<std::pair<std::string, double>>> points_;
    std::map<model::Landmark, std::string> bodyPoints_;
};

} // namespace

Pack packFromJson(const json& json, const std::filesystem::path& file) {
    return PackReader(file).read(json);
}

} // namespace kestrel::technique
