#include "synth/place.h"

#include "synth/noise.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>
#include <string>

namespace kestrel::synth {
namespace {

const Colour white(0.75F, 0.75F, 0.73F);
const Colour dark(0.05F, 0.05F, 0.06F);

Paint line(double x0, double y0, double x1, double y1, double width, const Colour& colour = white) {
    return {Paint::Shape::line, x0, y0, x1, y1, width, colour};
}

Paint ring(double x, double y, double radius, double width, const Colour& colour = white) {
    return {Paint::Shape::circle, x, y, radius, 0.0, width, colour};
}

Paint box(double x0, double y0, double x1, double y1, const Colour& colour) {
    return {Paint::Shape::box, x0, y0, x1, y1, 0.0, colour};
}

/// The outline of a rectangle, lines inside it.
void outline(std::vector<Paint>& paint, double x0, double y0, double x1, double y1, double width,
             const Colour& colour = white) {
    paint.push_back(line(x0, y0, x1, y0, width, colour));
    paint.push_back(line(x1, y0, x1, y1, width, colour));
    paint.push_back(line(x1, y1, x0, y1, width, colour));
    paint.push_back(line(x0, y1, x0, y0, width, colour));
}

Light hallLight() {
    Light light;
    light.toSun = Vector(0.15, -0.25, 0.95).normalized();
    light.sun = {0.55F, 0.54F, 0.50F};
    light.sky = {0.52F, 0.53F, 0.54F};
    return light;
}

std::function<Colour(double, double)> evenGround(const Colour& colour, double grain,
                                                 std::uint32_t seed) {
    return [colour, grain, noise = Noise(seed)](double x, double y) {
        return Colour(colour *
                      static_cast<float>(1.0 + grain * (noise.layered(6.0 * x, 6.0 * y, 4) - 0.5)));
    };
}

/// Boards along the target line, as of a sports hall.
std::function<Colour(double, double)> parquet(std::uint32_t seed) {
    return [noise = Noise(seed)](double x, double y) {
        const double board = std::floor(y / 0.07);
        const double tone = noise(board * 3.7, std::floor(x / 1.1 + board * 0.37));
        const double fibre = noise.layered(2.0 * x, 60.0 * y, 3);
        return mixed(Colour(0.36F, 0.21F, 0.10F), Colour(0.52F, 0.33F, 0.17F),
                     0.6 * tone + 0.4 * fibre);
    };
}

std::function<Colour(double, double)> lawnAnd(const std::function<bool(double, double)>& isDirt,
                                              std::uint32_t seed) {
    return [isDirt, noise = Noise(seed)](double x, double y) {
        const double fine = noise.layered(9.0 * x, 9.0 * y, 4);
        const double coarse = noise.layered(0.7 * x, 0.7 * y, 3);
        const double edge = 0.10 * (noise(3.0 * x, 3.0 * y) - 0.5);
        if (isDirt(x + edge, y + edge)) {
            return mixed(Colour(0.24F, 0.13F, 0.075F), Colour(0.40F, 0.24F, 0.15F),
                         0.7 * fine + 0.5 * coarse);
        }
        const Colour grass = mixed(Colour(0.055F, 0.13F, 0.030F), Colour(0.13F, 0.25F, 0.07F),
                                   0.9 * fine + 0.3 * coarse);
        const bool mown = std::fmod(std::abs(x + 40.0), 2.4) < 1.2;
        return mown ? grass : Colour(0.86F * grass);
    };
}

/// Four walls of a room around the origin.
void room(Place& place, double x0, double y0, double x1, double y1, double height,
          const Colour& colour) {
    place.walls.push_back({x0, y0, x1, y0, 0.0, height, colour, 0.0, {}});
    place.walls.push_back({x1, y0, x1, y1, 0.0, height, colour, 0.0, {}});
    place.walls.push_back({x1, y1, x0, y1, 0.0, height, colour, 0.0, {}});
    place.walls.push_back({x0, y1, x0, y0, 0.0, height, colour, 0.0, {}});
}

void fence(Place& place, double distance, double height, const Colour& colour) {
    room(place, -distance, -distance, distance, distance, height, colour);
}

// Baseball and softball: Official Baseball Rules (plate 17 in wide, rubber 24 × 6 in, 60 ft 6 in
// from the back point of the plate, mound circle 18 ft across; bases 90 ft apart); World Baseball
// Softball Confederation, softball (43 ft, circle of 8 ft radius, bases 60 ft).
constexpr double foot = 0.3048;
constexpr double inch = 0.0254;

void plate(Place& place, double x) {
    place.paint.push_back(box(x - 8.5 * inch, -8.5 * inch, x, 8.5 * inch, white));
    place.paint.push_back(line(x, 0.0, x + 8.5 * inch - 0.05, 0.0, 0.2, white));
    for (const double side : {-1.0, 1.0}) { // batter's boxes, 4 × 6 ft, 6 in from the plate
        outline(place.paint, x - 8.5 * inch - 3.0 * foot, side * 14.5 * inch,
                x - 8.5 * inch + 3.0 * foot, side * (14.5 * inch + 4.0 * foot), 0.06);
    }
}

Place diamond(std::uint32_t seed) {
    Place place;
    const double toPlate = 60.5 * foot - 1.5 * foot;
    place.ground = lawnAnd(
        [toPlate](double x, double y) {
            const double mound = 9.0 * foot;
            return std::hypot(x - 0.2, y) < mound || std::hypot(x - toPlate, y) < 13.0 * foot ||
                   (x < -6.0 && x > -22.0 && std::abs(y) < 40.0) ||
                   std::abs(std::abs(y) - (toPlate - x)) < 0.9;
        },
        seed);
    place.paint.push_back(box(-6.0 * inch - 0.06, -12.0 * inch, -0.06, 12.0 * inch, white));
    plate(place, toPlate);
    place.paint.push_back(line(toPlate, 0.0, toPlate - 30.0, 30.0, 0.1));
    place.paint.push_back(line(toPlate, 0.0, toPlate - 30.0, -30.0, 0.1));
    fence(place, 32.0, 1.8, Colour(0.06F, 0.14F, 0.12F));
    return place;
}

Place infield(std::uint32_t seed) {
    Place place = diamond(seed);
    place.ground =
        lawnAnd([](double x, double y) { return std::hypot(x - 6.0, y - 10.0) < 24.0; }, seed);
    place.paint.clear();
    place.paint.push_back(box(26.0, -0.19, 26.38, 0.19, white)); // first base, 15 in square
    place.paint.push_back(line(28.0, -30.0, 28.0, 4.0, 0.1));
    return place;
}

Place softballCircle(std::uint32_t seed) {
    Place place;
    const double toPlate = 43.0 * foot;
    place.ground = evenGround(Colour(0.36F, 0.21F, 0.13F), 0.7, seed);
    place.paint.push_back(ring(0.0, 0.0, 8.0 * foot, 0.08));
    place.paint.push_back(box(-6.0 * inch - 0.06, -12.0 * inch, -0.06, 12.0 * inch, white));
    plate(place, toPlate);
    place.paint.push_back(line(toPlate, 0.0, toPlate - 30.0, 30.0, 0.1));
    place.paint.push_back(line(toPlate, 0.0, toPlate - 30.0, -30.0, 0.1));
    fence(place, 24.0, 1.5, Colour(0.05F, 0.09F, 0.17F));
    return place;
}

Place battingCage(std::uint32_t seed) {
    Place place;
    place.ground = evenGround(Colour(0.07F, 0.15F, 0.06F), 0.8, seed);
    plate(place, 0.55);
    for (Paint& paint : place.paint) { // the batter stands beside the plate, in the box
        paint.y0 -= 0.9;
        paint.y1 -= 0.9;
    }
    const Colour net(0.10F, 0.10F, 0.10F);
    place.walls.push_back({-4.0, 3.5, 24.0, 3.5, 0.0, 4.0, net, 0.09, {}});
    place.walls.push_back({-4.0, -6.5, -4.0, 3.5, 0.0, 4.0, net, 0.09, {}});
    fence(place, 26.0, 2.0, Colour(0.14F, 0.12F, 0.10F));
    return place;
}

// Tennis: ITF Rules of Tennis 2024 (78 ft × 27 and 36 ft, service line 21 ft from the net, net 3 ft
// in the middle). `behind` is how far the player stands behind the baseline.
Place hardCourt(std::uint32_t seed, double behind) {
    Place place;
    const double length = 78.0 * foot;
    const double single = 13.5 * foot;
    const double wide = 18.0 * foot;
    const double beside = 0.6; // the server stands beside the centre mark
    place.ground = [behind, length, wide, beside, noise = Noise(seed)](double x, double y) {
        const bool inside = x > behind && x < behind + length && std::abs(y - beside) < wide;
        const Colour colour = inside ? Colour(0.07F, 0.16F, 0.28F) : Colour(0.10F, 0.22F, 0.15F);
        return Colour(colour * static_cast<float>(0.9 + 0.25 * noise.layered(7.0 * x, 7.0 * y, 4)));
    };
    const double base = behind + 0.05;
    const double net = behind + 0.5 * length;
    outline(place.paint, base, beside - wide, behind + length - 0.05, beside + wide, 0.05);
    place.paint.push_back(line(base, beside - wide, base, beside + wide, 0.1));
    for (const double side : {-single, single}) {
        place.paint.push_back(line(base, beside + side, behind + length, beside + side, 0.05));
    }
    for (const double service : {net - 21.0 * foot, net + 21.0 * foot}) {
        place.paint.push_back(line(service, beside - single, service, beside + single, 0.05));
    }
    place.paint.push_back(line(net - 21.0 * foot, beside, net + 21.0 * foot, beside, 0.05));
    place.paint.push_back(line(base, beside, base + 0.1, beside, 0.05)); // centre mark
    place.walls.push_back(
        {net, beside - wide - 0.9, net, beside + wide + 0.9, 0.0, 0.95, dark, 0.045, {}});
    room(place, behind - 6.4, beside - wide - 3.7, behind + length + 6.4, beside + wide + 3.7, 3.0,
         Colour(0.05F, 0.10F, 0.08F));
    return place;
}

// Squash: World Squash, court specification (9.75 × 6.40 m, out line 4.57 m, service line 1.78 m,
// board 0.48 m, short line 5.44 m from the front wall). The player is near the T.
Place squashCourt(std::uint32_t seed) {
    Place place;
    place.indoors = true;
    place.light = hallLight();
    place.ground = parquet(seed);
    const double front = 4.6;
    const double back = front - 9.75;
    const double right = -2.2;
    const double left = right + 6.40;
    const Colour red(0.45F, 0.05F, 0.04F);
    const Colour wallColour(0.66F, 0.66F, 0.64F);
    Wall wall{front, right, front, left, 0.0, 5.6, wallColour, 0.0, {}};
    wall.painted = {box(0.0, 4.57, 6.40, 4.62, red), box(0.0, 1.78, 6.40, 1.83, red),
                    box(0.0, 0.0, 6.40, 0.48, Colour(0.5F, 0.5F, 0.5F)),
                    box(0.0, 0.43, 6.40, 0.48, red)};
    place.walls.push_back(wall);
    place.walls.push_back({back, right, front, right, 0.0, 5.6, wallColour, 0.0, {}});
    place.walls.push_back({front, left, back, left, 0.0, 5.6, wallColour, 0.0, {}});
    // The back wall is glass: one films through it.
    const double shortLine = front - 5.44;
    place.paint.push_back(line(shortLine, right, shortLine, left, 0.05, red));
    place.paint.push_back(line(shortLine, right + 3.2, back, right + 3.2, 0.05, red));
    outline(place.paint, shortLine, right, shortLine - 1.6, right + 1.6, 0.05, red);
    outline(place.paint, shortLine, left, shortLine - 1.6, left - 1.6, 0.05, red);
    return place;
}

// Table tennis: ITTF Laws (table 2.74 × 1.525 m, 0.76 m high, net 15.25 cm).
Place tableHall(std::uint32_t seed) {
    Place place;
    place.indoors = true;
    place.light = hallLight();
    place.ground = evenGround(Colour(0.28F, 0.06F, 0.06F), 0.25, seed);
    const double near = 0.55;
    const Colour blue(0.03F, 0.08F, 0.22F);
    place.things.push_back(slab({near, -0.9, 0.735}, {near + 2.74, 0.625, 0.76}, blue));
    place.things.push_back(slab({near, -0.9, 0.7601}, {near + 2.74, -0.88, 0.7602}, white));
    place.things.push_back(slab({near, 0.605, 0.7601}, {near + 2.74, 0.625, 0.7602}, white));
    place.things.push_back(slab({near, -0.9, 0.7601}, {near + 0.02, 0.625, 0.7602}, white));
    place.walls.push_back({near + 1.37,
                           -1.05,
                           near + 1.37,
                           0.775,
                           0.76,
                           0.9125,
                           Colour(0.10F, 0.12F, 0.14F),
                           0.02,
                           {}});
    place.things.push_back(slab({near + 1.365, -1.05, 0.90}, {near + 1.375, 0.775, 0.9125}, white));
    for (const double x : {near + 0.3, near + 2.44}) {
        for (const double y : {-0.75, 0.475}) {
            place.things.push_back(
                slab({x - 0.03, y - 0.03, 0.0}, {x + 0.03, y + 0.03, 0.74}, dark));
        }
    }
    for (double y = -4.2; y < 4.0; y += 1.4) {
        place.walls.push_back(
            {7.5, y, 7.5, y + 1.36, 0.0, 0.76, Colour(0.05F, 0.08F, 0.18F), 0.0, {}});
    }
    room(place, -6.0, -9.0, 12.0, 9.0, 6.0, Colour(0.42F, 0.42F, 0.40F));
    return place;
}

// Basketball: FIBA Official Rules 2024, equipment (28 × 15 m, ring 3.05 m, 45 cm across, middle
// 1.575 m from the end line; board 1.80 × 1.05 m, lower edge 2.90 m; free-throw line 5.80 m and arc
// 6.75 m). The player shoots from 5.2 m.
Place basketHall(std::uint32_t seed) {
    Place place;
    place.indoors = true;
    place.light = hallLight();
    place.ground = parquet(seed);
    const double ringX = 5.2;
    const double end = ringX + 1.575;
    outline(place.paint, end - 28.0, -7.5, end, 7.5, 0.05);
    outline(place.paint, end - 5.8, -2.45, end, 2.45, 0.05);
    place.paint.push_back(ring(end - 5.8, 0.0, 1.8, 0.05));
    place.paint.push_back(ring(ringX, 0.0, 6.75, 0.05));
    place.paint.push_back(line(end - 14.0, -7.5, end - 14.0, 7.5, 0.05));
    place.things.push_back(
        slab({end - 1.2, -0.9, 2.90}, {end - 1.17, 0.9, 3.95}, Colour(0.62F, 0.62F, 0.62F)));
    const Colour orange(0.55F, 0.16F, 0.03F);
    place.things.push_back(slab({end - 1.202, -0.295, 3.05}, {end - 1.201, 0.295, 3.50}, orange));
    place.things.push_back(torus({ringX, 0.0, 3.05}, 0.225, 0.012, orange));
    // Held by an arm from the end wall, as in school halls, so that the front view is free.
    place.things.push_back(slab({end - 1.17, -0.08, 3.2}, {end + 3.0, 0.08, 3.35}, dark));
    room(place, end - 32.0, -10.5, end + 3.0, 10.5, 7.5, Colour(0.45F, 0.40F, 0.33F));
    return place;
}

// Ice hockey: IIHF Official Rule Book (goal 1.83 × 1.22 m; goal line 4 m from the boards; blue
// lines 30 cm; face-off circles 4.5 m in radius; boards 1.07 m).
Place rink(std::uint32_t seed) {
    Place place;
    place.indoors = true;
    place.light = hallLight();
    place.ground = evenGround(Colour(0.70F, 0.74F, 0.78F), 0.10, seed);
    const Colour red(0.55F, 0.05F, 0.06F);
    const Colour blue(0.05F, 0.10F, 0.45F);
    const double goal = 9.0;
    place.paint.push_back(line(goal, -14.0, goal, 14.0, 0.05, red));
    place.paint.push_back(ring(0.6, 2.0, 4.5, 0.05, red));
    place.paint.push_back(ring(0.6, 2.0, 0.3, 0.0, red));
    place.paint.push_back(line(goal - 17.3, -14.0, goal - 17.3, 14.0, 0.3, blue));
    for (const double y : {-0.915, 0.915}) {
        place.things.push_back(
            slab({goal - 0.03, y - 0.03, 0.0}, {goal + 0.03, y + 0.03, 1.22}, red));
    }
    place.things.push_back(slab({goal - 0.03, -0.915, 1.19}, {goal + 0.03, 0.915, 1.25}, red));
    place.walls.push_back(
        {goal + 0.9, -0.915, goal + 0.9, 0.915, 0.0, 1.2, Colour(0.6F, 0.6F, 0.6F), 0.06, {}});
    Place boards;
    room(boards, goal - 30.0, -11.0, goal + 4.0, 11.0, 1.07, Colour(0.68F, 0.68F, 0.68F));
    for (Wall& wall : boards.walls) {
        wall.painted = {box(0.0, 0.0, 60.0, 0.2, Colour(0.55F, 0.45F, 0.05F))};
        place.walls.push_back(wall);
    }
    room(place, goal - 33.0, -15.0, goal + 8.0, 15.0, 9.0, Colour(0.20F, 0.22F, 0.25F));
    return place;
}

// Volleyball: FIVB Official Rules 2021 (18 × 9 m, net 2.24 m for women, attack line 3 m).
Place volleyHall(std::uint32_t seed) {
    Place place;
    place.indoors = true;
    place.light = hallLight();
    place.ground = [noise = Noise(seed)](double x, double y) {
        const bool inside = x > 0.7 && x < 18.7 && std::abs(y - 1.5) < 4.5;
        const Colour colour = inside ? Colour(0.50F, 0.26F, 0.12F) : Colour(0.10F, 0.22F, 0.20F);
        return Colour(colour * static_cast<float>(0.95 + 0.1 * noise.layered(6.0 * x, 6.0 * y, 3)));
    };
    outline(place.paint, 0.7, -3.0, 18.7, 6.0, 0.05);
    for (const double x : {6.7, 9.7, 12.7}) {
        place.paint.push_back(line(x, -3.0, x, 6.0, 0.05));
    }
    place.walls.push_back({9.7, -3.5, 9.7, 6.5, 1.24, 2.24, dark, 0.10, {}});
    room(place, -5.0, -8.0, 24.0, 11.0, 8.0, Colour(0.45F, 0.44F, 0.40F));
    return place;
}

} // namespace

Place placeNamed(std::string_view name, std::uint32_t seed) {
    const auto named = [name](Place place) {
        place.name = name;
        return place;
    };
    if (name == "diamond") {
        return named(diamond(seed));
    }
    if (name == "infield") {
        return named(infield(seed));
    }
    if (name == "softball_circle") {
        return named(softballCircle(seed));
    }
    if (name == "batting_cage") {
        return named(battingCage(seed));
    }
    if (name == "hard_court") {
        return named(hardCourt(seed, 0.75));
    }
    if (name == "serve_court") { // the player stands with the toes at the baseline
        return named(hardCourt(seed, 0.0));
    }
    if (name == "net_court") {
        constexpr double netToPlayer = 3.0;
        return named(hardCourt(seed, netToPlayer - 39.0 * foot));
    }
    if (name == "squash_court") {
        return named(squashCourt(seed));
    }
    if (name == "table_hall") {
        return named(tableHall(seed));
    }
    if (name == "basket_hall") {
        return named(basketHall(seed));
    }
    if (name == "rink") {
        return named(rink(seed));
    }
    if (name == "volley_hall") {
        return named(volleyHall(seed));
    }
    throw std::invalid_argument("there is no place “" + std::string(name) + "”");
}

} // namespace kestrel::synth
