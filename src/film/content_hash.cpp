#include "film/content_hash.h"

#include "film/hex.h"
#include "model/input_error.h"

extern "C" {
#include <libavutil/mem.h>
#include <libavutil/sha.h>
}

#include <array>
#include <fstream>
#include <memory>
#include <vector>

namespace kestrel::film {

std::string contentHash(const std::filesystem::path& file, const ByteProgress& progress) {
    std::ifstream in(file, std::ios::binary);
    if (!in) {
        throw model::InputError(model::message("file.unreadable", file.filename().string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.check_you_may_read"));
    }
    std::error_code ignored;
    const std::uintmax_t all = std::filesystem::file_size(file, ignored);
    const auto freeSha = [](AVSHA* sha) { av_free(sha); };
    const std::unique_ptr<AVSHA, decltype(freeSha)> sha(av_sha_alloc(), freeSha);
    av_sha_init(sha.get(), 256);
    constexpr std::size_t blockBytes = std::size_t{1} << 20;
    std::vector<char> block(blockBytes);
    std::uintmax_t done = 0;
    while (in.read(block.data(), static_cast<std::streamsize>(block.size())) || in.gcount() > 0) {
        const auto count = static_cast<std::size_t>(in.gcount());
        av_sha_update(sha.get(), reinterpret_cast<const std::uint8_t*>(block.data()), count);
        done += count;
        if (progress && !progress(done, all)) {
            return {};
        }
    }
    std::array<std::uint8_t, 32> digest{};
    av_sha_final(sha.get(), digest.data());
    return hexText(digest);
}

} // namespace kestrel::film
