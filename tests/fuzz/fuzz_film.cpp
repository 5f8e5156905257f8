#include "film/film_index.h"
#include "film/picture_reader.h"
#include "model/input_error.h"

#include <cstdint>
#include <fstream>
#include <string>
#include <unistd.h>

using namespace kestrel;

/// libFuzzer's entry: the bytes are opened as a film, stepped through at a few places and closed. A
/// message for the coach is as good as a frame; a crash, a report of the sanitizers, or a hang is
/// not. Run by ./kestrel fuzz.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const std::string file = "/dev/shm/kestrel-fuzz-" + std::to_string(::getpid()) + ".film";
    std::ofstream(file, std::ios::binary | std::ios::trunc)
        .write(reinterpret_cast<const char*>(data), static_cast<std::streamsize>(size));
    try {
        const film::FilmIndex index = film::buildIndex(file);
        (void)film::speedStretches(index);
        film::PictureReader reader(index, 1);
        const int last = index.frameCount() - 1;
        for (const int frame : {0, last / 2, last, last / 3}) {
            try {
                (void)reader.read(frame);
            } catch (const model::InputError&) {
            }
        }
    } catch (const model::InputError&) {
    }
    return 0;
}
