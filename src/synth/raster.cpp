#include "synth/raster.h"

#include <algorithm>
#include <cmath>

namespace kestrel::synth {

Colour shaded(const Colour& albedo, const Vector& normal, const Light& light) {
    const auto direct = static_cast<float>(std::max(0.0, normal.dot(light.toSun)));
    // The sky lights from above; half of it comes back from the ground.
    const auto open = static_cast<float>(0.75 + 0.25 * normal.z());
    return albedo.cwiseProduct(direct * light.sun + open * light.sky);
}

Colour mixed(const Colour& a, const Colour& b, double t) {
    return a + static_cast<float>(std::clamp(t, 0.0, 1.0)) * (b - a);
}

Canvas::Canvas(int left, int top, int width, int height)
    : left_(left),
      top_(top),
      width_(width),
      height_(height),
      nearness_(static_cast<std::size_t>(width) * height),
      colour_(nearness_.size()),
      shadow_(nearness_.size()) {}

void Canvas::clear() {
    std::fill(nearness_.begin(), nearness_.end(), 0.0F);
    std::fill(shadow_.begin(), shadow_.end(), std::uint8_t{0});
}

template <class Paint>
void Canvas::fill(const Corner& a, const Corner& b, const Corner& c, const Paint& paint) const {
    const double area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (area == 0.0) {
        return;
    }
    const int x0 = std::max(left_, static_cast<int>(std::ceil(std::min({a.x, b.x, c.x}))));
    const int x1 =
        std::min(left_ + width_ - 1, static_cast<int>(std::floor(std::max({a.x, b.x, c.x}))));
    const int y0 = std::max(top_, static_cast<int>(std::ceil(std::min({a.y, b.y, c.y}))));
    const int y1 =
        std::min(top_ + height_ - 1, static_cast<int>(std::floor(std::max({a.y, b.y, c.y}))));
    // The weights are linear over the picture: along a row each changes by the same step.
    const double perArea = 1.0 / area;
    const double stepOfA = (b.y - c.y) * perArea;
    const double stepOfB = (c.y - a.y) * perArea;
    for (int y = y0; y <= y1; ++y) {
        double wa = ((b.x - x0) * (c.y - y) - (b.y - y) * (c.x - x0)) * perArea;
        double wb = ((c.x - x0) * (a.y - y) - (c.y - y) * (a.x - x0)) * perArea;
        const std::size_t row = static_cast<std::size_t>(y - top_) * width_;
        for (int x = x0; x <= x1; ++x, wa += stepOfA, wb += stepOfB) {
            const double wc = 1.0 - wa - wb;
            if (wa >= 0.0 && wb >= 0.0 && wc >= 0.0) {
                paint(row + static_cast<std::size_t>(x - left_), static_cast<float>(wa),
                      static_cast<float>(wb), static_cast<float>(wc));
            }
        }
    }
}

void Canvas::draw(const Mesh& mesh, const Camera& camera, const Light& light, model::Point2 shift) {
    std::vector<Corner> corners;
    std::vector<bool> turnedAway;
    corners.reserve(mesh.vertices.size());
    turnedAway.reserve(mesh.vertices.size());
    for (const Vertex& vertex : mesh.vertices) {
        turnedAway.push_back(vertex.normal.dot(vertex.at - camera.position) > 0.0);
        const auto at = camera.project(vertex.at);
        if (!at) {
            return; // the player never comes this near; a mesh cut by the lens is not drawn
        }
        const double depth = camera.inCamera(vertex.at).z();
        corners.push_back({at->x + shift.x, at->y + shift.y, static_cast<float>(1.0 / depth),
                           shaded(mesh.albedo, vertex.normal, light)});
    }
    for (const auto& [i, j, k] : mesh.triangles) {
        if (turnedAway[i] && turnedAway[j] && turnedAway[k]) {
            continue;
        }
        const Corner& a = corners[i];
        const Corner& b = corners[j];
        const Corner& c = corners[k];
        fill(a, b, c, [&](std::size_t offset, float wa, float wb, float wc) {
            const float nearness = wa * a.nearness + wb * b.nearness + wc * c.nearness;
            if (nearness > nearness_[offset]) {
                nearness_[offset] = nearness;
                colour_[offset] = wa * a.colour + wb * b.colour + wc * c.colour;
            }
        });
    }
}

void Canvas::drawShadow(const Mesh& mesh, const Camera& camera, const Light& light,
                        model::Point2 shift) {
    std::vector<std::optional<model::Point2>> corners;
    corners.reserve(mesh.vertices.size());
    for (const Vertex& vertex : mesh.vertices) {
        const double run = std::max(0.0, vertex.at.z()) / light.toSun.z();
        corners.push_back(camera.project(vertex.at - run * light.toSun));
    }
    const auto corner = [&](std::uint32_t i) {
        return Corner{corners[i]->x + shift.x, corners[i]->y + shift.y, 0.0F, Colour::Zero()};
    };
    for (const auto& [i, j, k] : mesh.triangles) {
        if (corners[i] && corners[j] && corners[k]) {
            fill(corner(i), corner(j), corner(k),
                 [&](std::size_t offset, float, float, float) { shadow_[offset] = 1; });
        }
    }
}

} // namespace kestrel::synth
