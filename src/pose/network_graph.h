#pragma once

#include <array>
#include <cstddef>
#include <filesystem>
#include <span>
#include <string>
#include <variant>
#include <vector>

/// A neural network as a list of operations on numbered tensors, free of any file format and any
/// way of running it. Pictures are NHWC: batch, row, column, channel.
namespace kestrel::pose {

/// Edges added around a picture before a window slides over it, in rows and columns.
struct Padding {
    int top = 0;
    int right = 0;
    int bottom = 0;
    int left = 0;
};

/// The limits that results are clipped to; infinite where there is none.
struct Clip {
    float low;
    float high;
};

struct Convolution {
    bool depthwise = false; ///< each channel by itself
    int strideX = 1;
    int strideY = 1;
    int dilationX = 1;
    int dilationY = 1;
    Padding padding;
    Clip clip{};
};

struct Sum {
    Clip clip{};
};

/// Zeros around a tensor: elements before and after along each dimension.
struct ZeroPad {
    std::array<std::size_t, 4> before{};
    std::array<std::size_t, 4> after{};
};

/// Doubling and the like, bilinear, pixel centres at halves.
struct Resize {};

struct MaxPool {
    int windowX = 1;
    int windowY = 1;
    int strideX = 1;
    int strideY = 1;
    Padding padding;
    Clip clip{};
};

struct DepthToSpace {
    int block = 1;
};

struct Reshape {};
struct Logistic {};

/// Sets tensors one behind the other along the second dimension (all others of size 1 or equal).
struct Join {};

using Operation =
    std::variant<Convolution, Sum, ZeroPad, Resize, MaxPool, DepthToSpace, Reshape, Logistic, Join>;

struct Tensor {
    std::vector<std::size_t> shape;
    std::vector<float> values; ///< of a constant; empty for what is computed

    [[nodiscard]] std::size_t size() const; ///< number of elements
};

struct Step {
    Operation operation;
    std::vector<int> inputs; ///< tensor numbers: picture, weights, bias for a convolution
    int output = 0;
};

struct NetworkGraph {
    std::vector<Tensor> tensors;
    std::vector<Step> steps; ///< in an order in which they can be run
    int input = 0;
    std::vector<int> outputs;
};

/// Reads a TensorFlow Lite file: weights of half precision and sparse weights become plain numbers,
/// zero edges are folded into the convolutions after them, steps that no output of `wanted` needs
/// are left out. `wanted` holds positions in the file's own list of outputs; empty means all, and
/// the graph's outputs are in that order.
///
/// Throws model::InputError naming `file` and the reason when it cannot be read, is damaged, or
/// uses an operation that is not known.
NetworkGraph readNetwork(const std::filesystem::path& file, std::span<const int> wanted = {});

/// The same from memory; `name` stands for the file in messages.
NetworkGraph readNetwork(std::span<const std::byte> bytes, const std::string& name,
                         std::span<const int> wanted = {});

} // namespace kestrel::pose
