#include "support/test_films.h"
#include "synth/film_edit.h"

#include <cstdio>

/// Renders the shared films where they are missing or older than this program, so that a change of
/// the figure is seen by all tests.
int main() {
    namespace fs = std::filesystem;
    using namespace kestrel;
    fs::create_directories(KESTREL_TEST_FILMS);
    const auto built = fs::last_write_time(fs::read_symlink("/proc/self/exe"));
    for (const support::TestFilm& film : support::allFilms()) {
        const fs::path file = support::filmFile(film);
        if (fs::exists(file) && fs::last_write_time(file) > built) {
            continue;
        }
        fs::path part = file;
        part.replace_extension(".part.mp4");
        const synth::FrameRenderer renderer(film.spec);
        synth::renderFilm(renderer, part);
        synth::writeTruth(renderer, file);
        fs::rename(part, file);
        std::printf("rendered %s\n", file.c_str());
    }
    return 0;
}
