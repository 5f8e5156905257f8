#pragma once

#include "pose/network_graph.h"

#include <memory>
#include <span>

namespace kestrel::pose {

/// A network made ready to run on the processor (XNNPACK). Not thread-safe: one object a thread.
class Network {
  public:
    /// Takes over the weights of `graph`; `threads` work on one run; they wait
    /// for one another by spinning, and slow each other down where there are fewer free cores.
    /// Throws model::InputError when the graph's shapes do not fit one another, std::runtime_error
    /// when XNNPACK refuses the processor.
    explicit Network(NetworkGraph graph, int threads = 1);
    ~Network();
    Network(Network&&) noexcept;
    Network& operator=(Network&&) noexcept;
    Network(const Network&) = delete;
    Network& operator=(const Network&) = delete;

    /// Where the input goes, in the order of its shape; keeps its contents between runs.
    std::span<float> input();

    /// Computes all outputs from the input.
    void run();

    /// Output number `position` in the order the graph was read with, as of the last run.
    [[nodiscard]] std::span<const float> output(std::size_t position) const;

  private:
    struct State;
    std::unique_ptr<State> state_;
};

} // namespace kestrel::pose
