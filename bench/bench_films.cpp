#include "bench_films.h"

#include "support/commands.h"
#include "support/test_films.h"

#include <tuple>

namespace kestrel::bench {
namespace {

std::filesystem::path folder() {
    const std::filesystem::path path = std::filesystem::path(KESTREL_TEST_FILMS) / "bench";
    std::filesystem::create_directories(path);
    return path;
}

QString text(const std::filesystem::path& file) {
    return QString::fromStdString(file.string());
}

/// `film` by way of a file that only gets its name when complete.
void make(const QStringList& how, const std::filesystem::path& film) {
    if (std::filesystem::exists(film)) {
        return;
    }
    const std::filesystem::path part =
        film.parent_path() / (film.stem().string() + ".part" + film.extension().string());
    support::makeFilm(how, part);
    std::filesystem::rename(part, film);
}

} // namespace

std::vector<BenchFilm> benchFilms() {
    // Bit rates as phones choose them; HEVC and VP9 need about half of H.264's.
    struct Size {
        const char* name;
        const char* filter;
        const char* seconds;
        int megabits;
    };
    std::vector<BenchFilm> films;
    for (const Size& size : {Size{"1080p", "fps=60,scale=1920:1080,noise=alls=8:allf=t", "2", 18},
                             Size{"4k", "fps=30,scale=3840:2160,noise=alls=8:allf=t", "2", 45}}) {
        const auto rate = [&](int share) {
            return QString("%1k").arg(1000 * size.megabits / share);
        };
        const std::vector<std::tuple<std::string, QStringList, std::string>> codecs{
            {"h264",
             {"-c:v", "libx264", "-preset", "veryfast", "-b:v", rate(1), "-g", "250", "-bf", "2"},
             ".mp4"},
            {"hevc",
             {"-c:v", "libx265", "-preset", "ultrafast", "-b:v", rate(2), "-x265-params",
              "log-level=none:keyint=250"},
             ".mp4"},
            {"vp9",
             {"-c:v", "libvpx-vp9", "-deadline", "realtime", "-cpu-used", "8", "-row-mt", "1",
              "-b:v", rate(2), "-g", "250"},
             ".webm"}};
        for (const auto& [codec, options, ending] : codecs) {
            const std::string name = codec + "-" + size.name;
            const std::filesystem::path film = folder() / (name + ending);
            make(QStringList{"-i", text(support::filmFile(support::rightHander())), "-t",
                             size.seconds, "-vf", size.filter} +
                     options,
                 film);
            films.push_back({name, film});
        }
    }
    return films;
}

std::filesystem::path fast1080p() {
    const std::filesystem::path film = folder() / "h264-1080p-240.mp4";
    make({"-i", text(support::filmFile(support::rightHander())), "-t", "2", "-vf",
          "minterpolate=fps=240:mi_mode=dup,scale=1920:1080,noise=alls=8:allf=t", "-c:v", "libx264",
          "-preset", "veryfast", "-b:v", "40M", "-g", "250", "-bf", "2"},
         film);
    return film;
}

std::filesystem::path tenMinutesOf4K() {
    const std::filesystem::path film = folder() / "ten-minutes-4k.mp4";
    make({"-stream_loop", "299", "-i", text(folder() / "h264-4k.mp4"), "-c", "copy"}, film);
    return film;
}

std::filesystem::path threeSecondsOf1080p() {
    const std::filesystem::path film = folder() / "three-seconds-1080p.mp4";
    make({"-stream_loop", "4", "-i", text(support::filmFile(support::rightHander())), "-vf",
          "fps=60,scale=1920:1080", "-frames:v", "180", "-c:v", "libx264", "-preset", "veryfast",
          "-crf", "18"},
         film);
    return film;
}

} // namespace kestrel::bench
