#include "pose/network_shapes.h"

#include <optional>

namespace kestrel::pose {
namespace {

using Shape = std::vector<std::size_t>;

constexpr std::size_t pictureRank = 4;

/// How many places a window takes along `size`; nothing when it does not fit.
std::optional<std::size_t> places(std::size_t size, int before, int after, std::size_t window,
                                  int stride, int dilation) {
    const std::size_t padded = size + static_cast<std::size_t>(before + after);
    const std::size_t reach = (window - 1) * static_cast<std::size_t>(dilation) + 1;
    if (window == 0 || reach > padded) {
        return std::nullopt;
    }
    return (padded - reach) / static_cast<std::size_t>(stride) + 1;
}

/// The shape a step computes from its inputs' shapes; empty when they cannot be combined.
struct Computed {
    const NetworkGraph& graph;
    const Step& step;

    [[nodiscard]] const Shape& in(std::size_t position) const {
        return graph.tensors[static_cast<std::size_t>(step.inputs[position])].shape;
    }
    [[nodiscard]] const Shape& out() const {
        return graph.tensors[static_cast<std::size_t>(step.output)].shape;
    }
    [[nodiscard]] bool picture() const { return in(0).size() == pictureRank; }

    Shape operator()(const Convolution& op) const {
        const Shape& weights = in(1);
        if (!picture() || weights.size() != pictureRank || in(2).size() != 1) {
            return {};
        }
        const std::size_t made = op.depthwise ? weights[3] : weights[0];
        const bool connected =
            op.depthwise ? weights[0] == 1 && weights[3] == in(0)[3] : weights[3] == in(0)[3];
        const auto rows = places(in(0)[1], op.padding.top, op.padding.bottom, weights[1],
                                 op.strideY, op.dilationY);
        const auto columns = places(in(0)[2], op.padding.left, op.padding.right, weights[2],
                                    op.strideX, op.dilationX);
        if (!connected || in(2)[0] != made || !rows || !columns) {
            return {};
        }
        return {in(0)[0], *rows, *columns, made};
    }
    Shape operator()(const MaxPool& op) const {
        if (!picture()) {
            return {};
        }
        const auto rows = places(in(0)[1], op.padding.top, op.padding.bottom,
                                 static_cast<std::size_t>(op.windowY), op.strideY, 1);
        const auto columns = places(in(0)[2], op.padding.left, op.padding.right,
                                    static_cast<std::size_t>(op.windowX), op.strideX, 1);
        return rows && columns ? Shape{in(0)[0], *rows, *columns, in(0)[3]} : Shape{};
    }
    Shape operator()(const Sum& /*op*/) const { return in(0) == in(1) ? in(0) : Shape{}; }
    Shape operator()(const Logistic& /*op*/) const { return in(0); }
    Shape operator()(const ZeroPad& op) const {
        Shape shape = in(0);
        for (std::size_t dimension = 0; dimension < shape.size(); ++dimension) {
            shape[dimension] += op.before[dimension] + op.after[dimension];
        }
        return shape;
    }
    Shape operator()(const Resize& /*op*/) const {
        return picture() && out().size() == pictureRank
                   ? Shape{in(0)[0], out()[1], out()[2], in(0)[3]}
                   : Shape{};
    }
    Shape operator()(const DepthToSpace& op) const {
        const auto block = static_cast<std::size_t>(op.block);
        if (!picture() || op.block < 1 || in(0)[3] % (block * block) != 0) {
            return {};
        }
        return {in(0)[0], in(0)[1] * block, in(0)[2] * block, in(0)[3] / (block * block)};
    }
    Shape operator()(const Reshape& /*op*/) const {
        const auto number = static_cast<std::size_t>(step.inputs[0]);
        return graph.tensors[number].size() ==
                       graph.tensors[static_cast<std::size_t>(step.output)].size()
                   ? out()
                   : Shape{};
    }
    Shape operator()(const Join& /*op*/) const {
        Shape shape = in(0);
        if (shape.size() < 2 || shape[0] != 1) {
            return {};
        }
        for (std::size_t position = 1; position < step.inputs.size(); ++position) {
            Shape part = in(position);
            if (part.size() != shape.size()) {
                return {};
            }
            shape[1] += part[1];
            part[1] = shape[1];
            if (part != shape) {
                return {};
            }
        }
        return shape;
    }
};

} // namespace

model::Message misfit(const NetworkGraph& graph) {
    for (const Step& step : graph.steps) {
        const Shape computed = std::visit(Computed{graph, step}, step.operation);
        if (computed.empty() ||
            computed != graph.tensors[static_cast<std::size_t>(step.output)].shape) {
            return model::message("network.shape_misfit", step.output);
        }
    }
    return {};
}

} // namespace kestrel::pose
