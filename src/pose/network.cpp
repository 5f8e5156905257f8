#include "pose/network.h"

#include "model/input_error.h"
#include "pose/network_shapes.h"

#include <pthreadpool.h>
#include <xnnpack.h>

#include <algorithm>
#include <map>
#include <stdexcept>

namespace kestrel::pose {
namespace {

void check(xnn_status status, const char* what) {
    if (status != xnn_status_success) {
        throw std::runtime_error(std::string("XNNPACK cannot ") + what + " (status " +
                                 std::to_string(static_cast<int>(status)) + ")");
    }
}

using Subgraph = std::unique_ptr<xnn_subgraph, decltype(&xnn_delete_subgraph)>;
using Runtime = std::unique_ptr<xnn_runtime, decltype(&xnn_delete_runtime)>;
using Pool = std::unique_ptr<pthreadpool, decltype(&pthreadpool_destroy)>;

/// XNNPACK reads a little past the end of what it is given.
std::vector<float> withSlack(std::size_t elements) {
    return std::vector<float>(elements + XNN_EXTRA_BYTES / sizeof(float), 0.0F);
}

/// Adds one step to an XNNPACK subgraph.
struct Definition {
    xnn_subgraph_t subgraph;
    const NetworkGraph& graph;
    const Step& step;
    const std::vector<std::uint32_t>& ids;

    [[nodiscard]] std::uint32_t in(std::size_t position) const {
        return ids[static_cast<std::size_t>(step.inputs[position])];
    }
    [[nodiscard]] std::uint32_t out() const { return ids[static_cast<std::size_t>(step.output)]; }
    [[nodiscard]] const std::vector<std::size_t>& shape(int tensor) const {
        return graph.tensors[static_cast<std::size_t>(tensor)].shape;
    }

    void operator()(const Convolution& op) const {
        const auto& weights = shape(step.inputs[1]);
        const auto u = [](auto value) { return static_cast<std::uint32_t>(value); };
        check(op.depthwise
                  ? xnn_define_depthwise_convolution_2d(
                        subgraph, u(op.padding.top), u(op.padding.right), u(op.padding.bottom),
                        u(op.padding.left), u(weights[1]), u(weights[2]), u(op.strideY),
                        u(op.strideX), u(op.dilationY), u(op.dilationX), 1, weights[3], op.clip.low,
                        op.clip.high, in(0), in(1), in(2), out(), 0)
                  : xnn_define_convolution_2d(
                        subgraph, u(op.padding.top), u(op.padding.right), u(op.padding.bottom),
                        u(op.padding.left), u(weights[1]), u(weights[2]), u(op.strideY),
                        u(op.strideX), u(op.dilationY), u(op.dilationX), 1, weights[3], weights[0],
                        op.clip.low, op.clip.high, in(0), in(1), in(2), out(), 0),
              "take a convolution");
    }
    void operator()(const Sum& op) const {
        check(xnn_define_add2(subgraph, op.clip.low, op.clip.high, in(0), in(1), out(), 0),
              "take a sum");
    }
    void operator()(const ZeroPad& op) const {
        check(xnn_define_static_constant_pad(subgraph, op.before.data(), op.after.data(), 0.0F,
                                             in(0), out(), 0),
              "take added edges");
    }
    void operator()(const Resize& /*op*/) const {
        const auto& target = shape(step.output);
        check(xnn_define_static_resize_bilinear_2d(subgraph, target[1], target[2], in(0), out(), 0),
              "take a change of size");
    }
    void operator()(const MaxPool& op) const {
        const auto u = [](int value) { return static_cast<std::uint32_t>(value); };
        check(xnn_define_max_pooling_2d(subgraph, u(op.padding.top), u(op.padding.right),
                                        u(op.padding.bottom), u(op.padding.left), u(op.windowY),
                                        u(op.windowX), u(op.strideY), u(op.strideX), 1, 1,
                                        op.clip.low, op.clip.high, in(0), out(), 0),
              "take a pooling");
    }
    void operator()(const DepthToSpace& op) const {
        check(xnn_define_depth_to_space(subgraph, in(0), out(),
                                        static_cast<std::uint32_t>(op.block), 0),
              "take a rearrangement");
    }
    void operator()(const Reshape& /*op*/) const {
        const auto& target = shape(step.output);
        check(xnn_define_static_reshape(subgraph, target.size(), target.data(), in(0), out(), 0),
              "take a change of shape");
    }
    void operator()(const Logistic& /*op*/) const {
        check(xnn_define_sigmoid(subgraph, in(0), out(), 0), "take a logistic step");
    }
    void operator()(const Join& /*op*/) const {
        throw std::runtime_error("joined tensors can only be results");
    }
};

} // namespace

struct Network::State {
    NetworkGraph graph;
    Pool pool{nullptr, &pthreadpool_destroy};
    Runtime runtime{nullptr, &xnn_delete_runtime};
    std::vector<float> input;
    /// Results of the network by tensor number; joined results are put together from them.
    std::map<int, std::vector<float>> results;
    std::vector<std::vector<int>> parts; ///< of each output: the tensors it is joined from
    std::vector<std::vector<float>> outputs;

    explicit State(NetworkGraph source) : graph(std::move(source)) {}

    void takeJoins() {
        for (const int output : graph.outputs) {
            const auto join =
                std::find_if(graph.steps.begin(), graph.steps.end(), [&](const Step& step) {
                    return step.output == output && std::holds_alternative<Join>(step.operation);
                });
            parts.push_back(join == graph.steps.end() ? std::vector<int>{output} : join->inputs);
            outputs.emplace_back(graph.tensors[static_cast<std::size_t>(output)].size());
        }
        std::erase_if(graph.steps, [&](const Step& step) {
            return std::holds_alternative<Join>(step.operation) &&
                   std::find(graph.outputs.begin(), graph.outputs.end(), step.output) !=
                       graph.outputs.end();
        });
        for (const auto& list : parts) {
            for (const int tensor : list) {
                results.emplace(tensor,
                                withSlack(graph.tensors[static_cast<std::size_t>(tensor)].size()));
            }
        }
    }

    void define(xnn_subgraph_t subgraph, const std::map<int, std::uint32_t>& external) {
        std::vector<std::uint32_t> ids(graph.tensors.size(), XNN_INVALID_VALUE_ID);
        const auto defineTensor = [&](int number) {
            auto& id = ids[static_cast<std::size_t>(number)];
            if (id != XNN_INVALID_VALUE_ID) {
                return;
            }
            Tensor& tensor = graph.tensors[static_cast<std::size_t>(number)];
            const float* constant = nullptr;
            if (!tensor.values.empty()) {
                tensor.values.resize(tensor.size() + XNN_EXTRA_BYTES / sizeof(float), 0.0F);
                constant = tensor.values.data();
            }
            const auto outside = external.find(number);
            const bool isExternal = outside != external.end();
            const std::uint32_t flags = !isExternal             ? 0U
                                        : number == graph.input ? XNN_VALUE_FLAG_EXTERNAL_INPUT
                                                                : XNN_VALUE_FLAG_EXTERNAL_OUTPUT;
            check(xnn_define_tensor_value(
                      subgraph, xnn_datatype_fp32, tensor.shape.size(), tensor.shape.data(),
                      constant, isExternal ? outside->second : XNN_INVALID_VALUE_ID, flags, &id),
                  "take a tensor");
        };
        for (const auto& [number, id] : external) {
            defineTensor(number);
        }
        for (const Step& step : graph.steps) {
            for (const int input : step.inputs) {
                defineTensor(input);
            }
            defineTensor(step.output);
            std::visit(Definition{subgraph, graph, step, ids}, step.operation);
        }
    }
};

Network::Network(NetworkGraph graph, int threads)
    : state_(std::make_unique<State>(std::move(graph))) {
    if (const model::Message why = misfit(state_->graph); !why.empty()) {
        throw model::InputError(model::message("network.unusable", why),
                                model::message("safe.nothing_changed"),
                                model::message("todo.set_up_again"));
    }
    check(xnn_initialize(nullptr), "start on this processor");
    state_->takeJoins();
    state_->input =
        withSlack(state_->graph.tensors[static_cast<std::size_t>(state_->graph.input)].size());

    std::map<int, std::uint32_t> external{{state_->graph.input, 0U}};
    for (const auto& [tensor, values] : state_->results) {
        external.emplace(tensor, static_cast<std::uint32_t>(external.size()));
    }
    xnn_subgraph_t made = nullptr;
    check(xnn_create_subgraph(static_cast<std::uint32_t>(external.size()), 0, &made),
          "begin a network");
    const Subgraph subgraph(made, &xnn_delete_subgraph);
    state_->define(subgraph.get(), external);

    state_->pool.reset(pthreadpool_create(static_cast<std::size_t>(threads)));
    xnn_runtime_t runtime = nullptr;
    check(xnn_create_runtime_v2(subgraph.get(), state_->pool.get(), 0, &runtime),
          "prepare a network");
    state_->runtime.reset(runtime);
    std::vector<xnn_external_value> values;
    for (const auto& [tensor, id] : external) {
        values.push_back({id, tensor == state_->graph.input ? state_->input.data()
                                                            : state_->results.at(tensor).data()});
    }
    check(xnn_setup_runtime(runtime, values.size(), values.data()), "set a network up");
}

Network::~Network() = default;
Network::Network(Network&&) noexcept = default;
Network& Network::operator=(Network&&) noexcept = default;

std::span<float> Network::input() {
    return {state_->input.data(), state_->input.size() - XNN_EXTRA_BYTES / sizeof(float)};
}

void Network::run() {
    check(xnn_invoke_runtime(state_->runtime.get()), "run a network");
    for (std::size_t position = 0; position < state_->outputs.size(); ++position) {
        auto target = state_->outputs[position].begin();
        for (const int tensor : state_->parts[position]) {
            const auto& part = state_->results.at(tensor);
            const auto size = state_->graph.tensors[static_cast<std::size_t>(tensor)].size();
            target = std::copy_n(part.begin(), size, target);
        }
    }
}

std::span<const float> Network::output(std::size_t position) const {
    return state_->outputs.at(position);
}

} // namespace kestrel::pose
