#include "model/input_error.h"
#include "pose/network_graph.h"
#include "pose/sparse_weights.h"
#include "tflite_network_generated.h"

#include <Eigen/Core>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <fstream>
#include <iterator>
#include <limits>
#include <optional>

namespace kestrel::pose {
namespace {

constexpr std::size_t mostElements = std::size_t{1}
                                     << 26; ///< of one tensor; pose networks stay 100 times below
constexpr std::size_t mostDimensions = 6;

[[noreturn]] void reject(const std::string& name, model::Message why) {
    throw model::InputError(model::message("network.file_unusable", name, std::move(why)),
                            model::message("safe.nothing_changed"),
                            model::message("todo.set_up_again"));
}

class Reader {
  public:
    Reader(std::span<const std::byte> bytes, const std::string& name) : name_(name) {
        const auto* data = reinterpret_cast<const std::uint8_t*>(bytes.data());
        flatbuffers::Verifier verifier(data, bytes.size());
        if (!tflite::VerifyNetworkBuffer(verifier)) {
            reject(name_, model::message("network.damaged"));
        }
        file_ = tflite::GetNetwork(data);
        if (file_->graphs() == nullptr || file_->graphs()->size() != 1 ||
            file_->buffers() == nullptr || file_->operator_codes() == nullptr) {
            reject(name_, model::message("network.not_one"));
        }
        source_ = file_->graphs()->Get(0);
        if (source_->tensors() == nullptr || source_->operators() == nullptr ||
            source_->inputs() == nullptr || source_->outputs() == nullptr ||
            source_->inputs()->size() != 1) {
            reject(name_, model::message("network.incomplete"));
        }
    }

    NetworkGraph graph(std::span<const int> wanted) {
        const std::size_t count = source_->tensors()->size();
        graph_.tensors.resize(count);
        known_.assign(count, false);
        for (std::size_t number = 0; number < count; ++number) {
            readTensor(number);
        }
        graph_.input = tensorNumber(source_->inputs()->Get(0));
        known_[static_cast<std::size_t>(graph_.input)] = true;
        for (const tflite::Operator* op : *source_->operators()) {
            readOperator(*op);
        }
        chooseOutputs(wanted);
        dropUnneeded();
        return std::move(graph_);
    }

  private:
    int tensorNumber(int number) const {
        if (number < 0 || static_cast<std::size_t>(number) >= source_->tensors()->size()) {
            reject(name_, model::message("network.tensor_missing"));
        }
        return number;
    }

    Tensor& at(int number) { return graph_.tensors[static_cast<std::size_t>(number)]; }

    void readTensor(std::size_t number) {
        const tflite::Tensor* source = source_->tensors()->Get(static_cast<unsigned>(number));
        Tensor& tensor = graph_.tensors[number];
        std::size_t size = 1;
        if (source->shape() != nullptr) {
            for (const int side : *source->shape()) {
                if (side <= 0 || tensor.shape.size() == mostDimensions ||
                    static_cast<std::size_t>(side) > mostElements / size) {
                    reject(name_, model::message("network.tensor_impossible_shape"));
                }
                size *= static_cast<std::size_t>(side);
                tensor.shape.push_back(static_cast<std::size_t>(side));
            }
        }
        if (source->buffer() >= file_->buffers()->size()) {
            reject(name_, model::message("network.tensor_values_missing"));
        }
        const auto* data = file_->buffers()->Get(source->buffer())->data();
        if (data == nullptr || data->size() == 0) {
            return;
        }
        tensor.values = numbers(*source, *data);
        if (source->sparsity() != nullptr) {
            tensor.values = dense(plan(*source->sparsity()), tensor.shape, tensor.values);
        }
        if (tensor.values.size() != size) {
            reject(name_, model::message("network.tensor_values_misfit"));
        }
        known_[number] = true;
    }

    std::vector<float> numbers(const tflite::Tensor& source,
                               const flatbuffers::Vector<std::uint8_t>& data) const {
        const auto read = [&](auto example, auto toFloat) {
            using Stored = decltype(example);
            if (data.size() % sizeof(Stored) != 0) {
                reject(name_, model::message("network.tensor_values_cut_off"));
            }
            std::vector<float> values(data.size() / sizeof(Stored));
            for (std::size_t i = 0; i < values.size(); ++i) {
                Stored stored;
                std::memcpy(&stored, data.data() + i * sizeof(Stored), sizeof(Stored));
                values[i] = toFloat(stored);
            }
            return values;
        };
        switch (source.type()) {
        case tflite::TensorType::Float32:
            return read(float{}, [](float v) { return v; });
        case tflite::TensorType::Float16:
            return read(std::uint16_t{}, [](std::uint16_t bits) {
                return static_cast<float>(Eigen::numext::bit_cast<Eigen::half>(bits));
            });
        case tflite::TensorType::Int32:
            return read(std::int32_t{}, [](std::int32_t v) { return static_cast<float>(v); });
        default:
            reject(name_, model::message("network.numbers_unknown"));
        }
    }

    SparsePlan plan(const tflite::Sparsity& source) const {
        SparsePlan plan;
        const auto copy = [](const auto* from, std::vector<std::size_t>& to) {
            if (from != nullptr) {
                for (const auto value : *from) {
                    // A negative number becomes a huge one, which no check lets pass.
                    to.push_back(static_cast<std::size_t>(value));
                }
            }
        };
        const auto indices = [&](tflite::SparseValues kind, const void* values) {
            std::vector<std::size_t> list;
            if (kind == tflite::SparseValues::Int32Values) {
                copy(static_cast<const tflite::Int32Values*>(values)->values(), list);
            } else if (kind == tflite::SparseValues::UInt16Values) {
                copy(static_cast<const tflite::UInt16Values*>(values)->values(), list);
            } else if (kind == tflite::SparseValues::UInt8Values) {
                copy(static_cast<const tflite::UInt8Values*>(values)->values(), list);
            }
            return list;
        };
        copy(source.traversal_order(), plan.order);
        copy(source.block_map(), plan.blockOf);
        if (source.dimensions() == nullptr) {
            return plan;
        }
        for (const tflite::Dimension* dimension : *source.dimensions()) {
            SparseLevel level;
            level.dense = dimension->format() == tflite::DimensionFormat::Dense;
            level.size = static_cast<std::size_t>(std::max(0, dimension->dense_size()));
            level.segments = indices(dimension->array_segments_type(), dimension->array_segments());
            level.positions = indices(dimension->array_indices_type(), dimension->array_indices());
            plan.levels.push_back(std::move(level));
        }
        return plan;
    }

    /// A constant's values, as whole numbers.
    std::vector<int> wholeNumbers(int number, std::size_t count) {
        const Tensor& tensor = at(number);
        if (tensor.values.size() != count) {
            reject(name_, model::message("network.operation_lacks_numbers"));
        }
        std::vector<int> whole;
        for (const float value : tensor.values) {
            if (!(value >= 0.0F) || value > static_cast<float>(mostElements)) {
                reject(name_, model::message("network.operation_impossible_number"));
            }
            whole.push_back(static_cast<int>(value));
        }
        return whole;
    }

    static std::optional<Clip> clip(tflite::Activation activation) {
        constexpr float none = std::numeric_limits<float>::infinity();
        constexpr float six = 6.0F;
        switch (activation) {
        case tflite::Activation::None:
            return Clip{-none, none};
        case tflite::Activation::Relu:
            return Clip{0.0F, none};
        case tflite::Activation::Relu6:
            return Clip{0.0F, six};
        default:
            return std::nullopt;
        }
    }

    Clip clipOf(tflite::Activation activation) const {
        const auto found = clip(activation);
        if (!found) {
            reject(name_, model::message("network.clipping_unknown"));
        }
        return *found;
    }

    void readOperator(const tflite::Operator& op) {
        if (op.opcode_index() >= file_->operator_codes()->size()) {
            reject(name_, model::message("network.operation_unnamed"));
        }
        const tflite::OperatorCode* code = file_->operator_codes()->Get(op.opcode_index());
        // The first 127 kinds stand in the old field, later ones in the new one.
        const int kind = std::max<int>(code->old_code(), code->code());
        if (op.inputs() == nullptr || op.inputs()->size() == 0 || op.outputs() == nullptr ||
            op.outputs()->size() != 1) {
            reject(name_, model::message("network.operation_unconnected"));
        }
        Step step;
        for (const int input : *op.inputs()) {
            if (!known_[static_cast<std::size_t>(tensorNumber(input))]) {
                reject(name_, model::message("network.operation_too_early"));
            }
            step.inputs.push_back(input);
        }
        step.output = tensorNumber(op.outputs()->Get(0));
        if (known_[static_cast<std::size_t>(step.output)]) {
            reject(name_, model::message("network.tensor_made_twice"));
        }
        known_[static_cast<std::size_t>(step.output)] = true;
        using Kind = tflite::OperatorKind;
        if (kind == static_cast<int>(Kind::Dequantize) || kind == static_cast<int>(Kind::Densify)) {
            // Both are done when constants are read.
            if (at(step.inputs[0]).values.empty() ||
                at(step.inputs[0]).shape != at(step.output).shape) {
                reject(name_, model::message("network.weights_missing"));
            }
            at(step.output).values = at(step.inputs[0]).values;
            return;
        }
        setOperation(op, static_cast<Kind>(kind), step);
        graph_.steps.push_back(std::move(step));
    }

    /// What a step does, and of its inputs those that are no options.
    void setOperation(const tflite::Operator& op, tflite::OperatorKind kind, Step& step) {
        using Kind = tflite::OperatorKind;
        const auto needs = [&](std::size_t inputs) {
            if (step.inputs.size() < inputs) {
                reject(name_, model::message("network.operation_lacks_input"));
            }
        };
        switch (kind) {
        case Kind::Conv2D:
        case Kind::DepthwiseConv2D:
            needs(3);
            step.operation = convolution(op, step);
            break;
        case Kind::Add:
            needs(2);
            step.operation = Sum{clipOf(op.options_as_AddOptions() != nullptr
                                            ? op.options_as_AddOptions()->activation()
                                            : tflite::Activation::None)};
            break;
        case Kind::Pad:
            needs(2);
            step.operation = zeroPad(step);
            step.inputs.resize(1);
            break;
        case Kind::MaxPool2D:
            step.operation = maxPool(op, step);
            break;
        case Kind::ResizeBilinear:
            if (op.options_as_ResizeBilinearOptions() == nullptr ||
                !op.options_as_ResizeBilinearOptions()->half_pixel_centers()) {
                reject(name_, model::message("network.resizing_unknown"));
            }
            step.operation = Resize{};
            step.inputs.resize(1);
            break;
        case Kind::DepthToSpace:
            if (op.options_as_DepthToSpaceOptions() == nullptr) {
                reject(name_, model::message("network.operation_lacks_options"));
            }
            step.operation = DepthToSpace{op.options_as_DepthToSpaceOptions()->block_size()};
            break;
        case Kind::Reshape:
            step.operation = Reshape{};
            step.inputs.resize(1);
            break;
        case Kind::Logistic:
            step.operation = Logistic{};
            break;
        case Kind::Concatenation:
            if (op.options_as_ConcatenationOptions() == nullptr ||
                op.options_as_ConcatenationOptions()->axis() != 1 ||
                op.options_as_ConcatenationOptions()->activation() != tflite::Activation::None) {
                reject(name_, model::message("network.joining_unknown"));
            }
            step.operation = Join{};
            break;
        default:
            reject(name_, model::message("network.operation_unknown", static_cast<int>(kind)));
        }
    }

    /// Edges that keep ceil(size / stride) results, as TensorFlow's "same" padding divides them.
    static std::pair<int, int> sameEdges(std::size_t size, int window, int stride, int dilation) {
        const int whole = static_cast<int>(size);
        const int results = (whole + stride - 1) / stride;
        const int reach = (window - 1) * dilation + 1;
        const int all = std::max(0, (results - 1) * stride + reach - whole);
        return {all / 2, all - all / 2};
    }

    static Padding samePadding(const Tensor& input, int windowX, int windowY, int strideX,
                               int strideY, int dilationX, int dilationY) {
        const auto [top, bottom] = sameEdges(input.shape[1], windowY, strideY, dilationY);
        const auto [left, right] = sameEdges(input.shape[2], windowX, strideX, dilationX);
        return {top, right, bottom, left};
    }

    void checkWindow(int strideX, int strideY, int dilationX, int dilationY) const {
        constexpr int most = 64; // far above any network of pictures; keeps sums in range
        for (const int value : {strideX, strideY, dilationX, dilationY}) {
            if (value < 1 || value > most) {
                reject(name_, model::message("network.window_impossible_step"));
            }
        }
    }

    Convolution convolution(const tflite::Operator& op, Step& step) {
        Convolution result;
        bool same = false;
        int multiplier = 1;
        const auto take = [&](const auto& options) {
            result.strideX = options.stride_w();
            result.strideY = options.stride_h();
            result.dilationX = options.dilation_w();
            result.dilationY = options.dilation_h();
            result.clip = clipOf(options.activation());
            same = options.padding() == tflite::Padding::Same;
        };
        if (const auto* full = op.options_as_Conv2DOptions()) {
            take(*full);
        } else if (const auto* thin = op.options_as_DepthwiseConv2DOptions()) {
            take(*thin);
            result.depthwise = true;
            multiplier = thin->depth_multiplier();
        } else {
            reject(name_, model::message("network.convolution_lacks_options"));
        }
        checkWindow(result.strideX, result.strideY, result.dilationX, result.dilationY);
        const Tensor& weights = at(step.inputs[1]);
        if (multiplier != 1 || weights.shape.size() != 4 || weights.values.empty() ||
            at(step.inputs[2]).values.empty() || at(step.inputs[0]).shape.size() != 4) {
            reject(name_, model::message("network.convolution_weights_unknown"));
        }
        if (same) {
            result.padding = samePadding(at(step.inputs[0]), static_cast<int>(weights.shape[2]),
                                         static_cast<int>(weights.shape[1]), result.strideX,
                                         result.strideY, result.dilationX, result.dilationY);
        } else {
            foldPad(result, step);
        }
        return result;
    }

    /// Zero edges made by the step before are the convolution's own work.
    void foldPad(Convolution& convolution, Step& step) {
        const auto before =
            std::find_if(graph_.steps.begin(), graph_.steps.end(),
                         [&](const Step& earlier) { return earlier.output == step.inputs[0]; });
        if (before == graph_.steps.end()) {
            return;
        }
        const auto* pad = std::get_if<ZeroPad>(&before->operation);
        if (pad == nullptr || pad->before[3] != 0 || pad->after[3] != 0 || pad->before[0] != 0 ||
            pad->after[0] != 0) {
            return;
        }
        convolution.padding = {static_cast<int>(pad->before[1]), static_cast<int>(pad->after[2]),
                               static_cast<int>(pad->after[1]), static_cast<int>(pad->before[2])};
        step.inputs[0] = before->inputs[0];
    }

    ZeroPad zeroPad(const Step& step) {
        ZeroPad pad;
        const std::size_t rank = at(step.inputs[0]).shape.size();
        if (rank != pad.before.size()) {
            reject(name_, model::message("network.edges_on_no_picture"));
        }
        const std::vector<int> edges = wholeNumbers(step.inputs[1], 2 * rank);
        for (std::size_t dimension = 0; dimension < rank; ++dimension) {
            pad.before[dimension] = static_cast<std::size_t>(edges[2 * dimension]);
            pad.after[dimension] = static_cast<std::size_t>(edges[2 * dimension + 1]);
        }
        return pad;
    }

    MaxPool maxPool(const tflite::Operator& op, const Step& step) {
        const auto* options = op.options_as_Pool2DOptions();
        if (options == nullptr || at(step.inputs[0]).shape.size() != 4) {
            reject(name_, model::message("network.pooling_lacks_options"));
        }
        checkWindow(options->stride_w(), options->stride_h(), options->filter_width(),
                    options->filter_height());
        MaxPool pool;
        pool.windowX = options->filter_width();
        pool.windowY = options->filter_height();
        pool.strideX = options->stride_w();
        pool.strideY = options->stride_h();
        pool.clip = clipOf(options->activation());
        if (options->padding() == tflite::Padding::Same) {
            pool.padding = samePadding(at(step.inputs[0]), pool.windowX, pool.windowY, pool.strideX,
                                       pool.strideY, 1, 1);
        }
        return pool;
    }

    void chooseOutputs(std::span<const int> wanted) {
        const auto& all = *source_->outputs();
        if (wanted.empty()) {
            for (const int output : all) {
                graph_.outputs.push_back(tensorNumber(output));
            }
        }
        for (const int position : wanted) {
            if (position < 0 || static_cast<unsigned>(position) >= all.size()) {
                reject(name_, model::message("network.too_few_results"));
            }
            graph_.outputs.push_back(tensorNumber(all.Get(static_cast<unsigned>(position))));
        }
    }

    void dropUnneeded() {
        std::vector<bool> needed(graph_.tensors.size(), false);
        for (const int output : graph_.outputs) {
            needed[static_cast<std::size_t>(output)] = true;
        }
        std::vector<Step> kept;
        for (auto step = graph_.steps.rbegin(); step != graph_.steps.rend(); ++step) {
            if (!needed[static_cast<std::size_t>(step->output)]) {
                continue;
            }
            for (const int input : step->inputs) {
                needed[static_cast<std::size_t>(input)] = true;
            }
            kept.push_back(std::move(*step));
        }
        graph_.steps.assign(std::make_move_iterator(kept.rbegin()),
                            std::make_move_iterator(kept.rend()));
        for (std::size_t number = 0; number < needed.size(); ++number) {
            if (!needed[number]) {
                graph_.tensors[number].values = {};
            }
        }
    }

    std::string name_;
    const tflite::Network* file_ = nullptr;
    const tflite::Graph* source_ = nullptr;
    NetworkGraph graph_;
    std::vector<bool> known_; ///< constants, the input and what the steps so far compute
};

} // namespace

std::size_t Tensor::size() const {
    std::size_t size = 1;
    for (const std::size_t side : shape) {
        size *= side;
    }
    return size;
}

NetworkGraph readNetwork(std::span<const std::byte> bytes, const std::string& name,
                         std::span<const int> wanted) {
    return Reader(bytes, name).graph(wanted);
}

NetworkGraph readNetwork(const std::filesystem::path& file, std::span<const int> wanted) {
    std::ifstream stream(file, std::ios::binary);
    if (!stream) {
        reject(file.string(), model::message("network.unopened"));
    }
    const std::vector<char> bytes((std::istreambuf_iterator<char>(stream)), {});
    return readNetwork(std::as_bytes(std::span(bytes)), file.string(), wanted);
}

} // namespace kestrel::pose
