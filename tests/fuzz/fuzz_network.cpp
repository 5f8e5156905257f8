#include "model/input_error.h"
#include "pose/network_graph.h"

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <fstream>
#include <iterator>
#include <span>
#include <string>
#include <vector>

using namespace kestrel;

namespace {

/// The smallest of the shipped networks; the environment says where it is.
const std::vector<std::byte>& wholeNetwork() {
    static const std::vector<std::byte> bytes = [] {
        const char* const folder = std::getenv("KESTREL_POSE_NETWORKS");
        std::ifstream stream(std::string(folder != nullptr ? folder : ".") +
                                 "/pose_landmark_lite.tflite",
                             std::ios::binary);
        const std::vector<char> read((std::istreambuf_iterator<char>(stream)), {});
        if (read.empty()) {
            std::abort(); // nothing to begin with: there would be nothing to find
        }
        const auto view = std::as_bytes(std::span(read));
        return std::vector<std::byte>(view.begin(), view.end());
    }();
    return bytes;
}

void readOrRefuse(std::span<const std::byte> bytes) {
    try {
        (void)pose::readNetwork(bytes, "fuzzed");
    } catch (const model::InputError&) {
    }
}

} // namespace

/// libFuzzer's entry. An input that begins with an even byte is read as a network file. Otherwise
/// it is a list of changes to a whole one: four bytes each say where, a fifth which value; a last
/// rest of three bytes says where the file is cut off. A refusal in words is as good as a network.
/// Run by ./kestrel fuzz.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) {
        return 0;
    }
    std::span<const std::uint8_t> input(data + 1, size - 1);
    if (data[0] % 2 == 0) {
        readOrRefuse(std::as_bytes(input));
        return 0;
    }
    std::vector<std::byte> bytes = wholeNetwork();
    const auto number = [](std::span<const std::uint8_t> digits) {
        std::size_t value = 0;
        for (const std::uint8_t digit : digits) {
            value = value * 256 + digit;
        }
        return value;
    };
    constexpr std::size_t change = 5;
    constexpr std::size_t cut = 3;
    for (; input.size() >= change; input = input.subspan(change)) {
        bytes[number(input.first(change - 1)) % bytes.size()] =
            static_cast<std::byte>(input[change - 1]);
    }
    if (input.size() == cut) {
        bytes.resize(number(input) % bytes.size());
    }
    readOrRefuse(bytes);
    return 0;
}
