#include "support/film_corpus.h"

#include "support/commands.h"

#include <algorithm>
#include <fstream>

namespace kestrel::support {
namespace {

const QStringList x264{"-c:v", "libx264", "-g", "20", "-bf", "3"};
const QStringList x265{"-c:v",      "libx265",      "-preset",
                       "ultrafast", "-x265-params", "log-level=none:keyint=20"};
const QStringList vp9{"-c:v", "libvpx-vp9", "-deadline", "realtime", "-cpu-used", "8", "-g", "20"};
const QStringList av1{"-c:v", "libsvtav1", "-preset", "12", "-g", "20"};
const QStringList mpeg4{"-c:v", "mpeg4", "-g", "12", "-bf", "2"};
const QStringList mjpeg{"-c:v", "mjpeg", "-q:v", "4"};

QStringList sized(const char* size) {
    return {"-f", "lavfi", "-i", QString("testsrc2=size=%1:rate=30:duration=2").arg(size)};
}

} // namespace

std::vector<CorpusFilm> filmCorpus() {
    const QStringList withSound{"-f", "lavfi", "-i", "testsrc2=size=192x108:rate=30:duration=2",
                                "-f", "lavfi", "-i", "sine=duration=2"};
    return {
        // Codecs and containers.
        {"h264 mp4", "mp4", x264},
        {"h264 mov", "mov", x264},
        {"h264 mkv", "mkv", x264},
        {"h264 avi", "avi", QStringList{"-c:v", "libx264", "-g", "20", "-bf", "0"}},
        {"h264 transport stream", "ts", x264},
        {"hevc mp4", "mp4", x265},
        {"hevc mkv", "mkv", x265},
        {"hevc mov", "mov", x265 + QStringList{"-tag:v", "hvc1"}},
        {"vp9 webm", "webm", vp9},
        {"vp9 mkv", "mkv", vp9},
        {"vp9 mp4", "mp4", vp9},
        {"av1 mp4", "mp4", av1},
        {"av1 mkv", "mkv", av1},
        {"av1 webm", "webm", av1},
        {"mpeg4 avi", "avi", mpeg4},
        {"mpeg4 mp4", "mp4", mpeg4},
        {"mpeg4 mkv", "mkv", mpeg4},
        {"mjpeg avi", "avi", mjpeg},
        {"mjpeg mov", "mov", mjpeg},
        {"mjpeg mkv", "mkv", mjpeg},
        // Group structures.
        {"h264 b-pyramid",
         "mp4",
         {"-c:v", "libx264", "-g", "30", "-bf", "7", "-x264-params", "b-pyramid=normal:b-adapt=0"}},
        {"h264 open gop", "mp4", x264 + QStringList{"-x264-params", "open-gop=1"}},
        {"h264 open gop mkv", "mkv", x264 + QStringList{"-x264-params", "open-gop=1"}},
        {"hevc open gop",
         "mp4",
         {"-c:v", "libx265", "-preset", "fast", "-x265-params",
          "log-level=none:keyint=15:open-gop=1:bframes=4"}},
        {"h264 intra only", "mp4", {"-c:v", "libx264", "-g", "1"}},
        {"h264 one long group", "mp4", {"-c:v", "libx264", "-g", "9999", "-bf", "2"}},
        {"h264 intra refresh",
         "mp4",
         {"-c:v", "libx264", "-g", "25", "-x264-params", "intra-refresh=1"}},
        {"h264 fragmented", "mp4", x264 + QStringList{"-movflags", "frag_keyframe+empty_moov"}},
        {"h264 index in front", "mp4", x264 + QStringList{"-movflags", "faststart"}},
        {"h264 with sound", "mp4", x264 + QStringList{"-c:a", "aac", "-shortest"}, withSound},
        // Clocks.
        {"variable rate", "mp4",
         x264 + QStringList{"-vf", "select='not(mod(n,7))+lt(mod(n,5),3)'", "-fps_mode", "vfr"}},
        {"variable rate mkv", "mkv",
         x264 + QStringList{"-vf", "select='not(mod(n,7))+lt(mod(n,5),3)'", "-fps_mode", "vfr"}},
        {"30000/1001",
         "mp4",
         x264,
         {"-f", "lavfi", "-i", "testsrc2=size=192x108:rate=30000/1001:duration=2"}},
        {"240 a second",
         "mp4",
         x264,
         {"-f", "lavfi", "-i", "testsrc2=size=192x108:rate=240:duration=0.5"}},
        {"8 a second",
         "avi",
         mpeg4,
         {"-f", "lavfi", "-i", "testsrc2=size=320x240:rate=8:duration=4"}},
        {"non-zero start", "mkv", x264 + QStringList{"-output_ts_offset", "3.2"}},
        {"non-zero start mp4", "mp4", x264 + QStringList{"-output_ts_offset", "3.2"}},
        {"slow-motion ramp", "mp4",
         x264 + QStringList{"-vf",
                            "setpts='if(lt(N,20),N,if(lt(N,40),20+(N-20)*4,100+(N-40)))/30/TB'",
                            "-fps_mode", "vfr"}},
        {"same time twice", "mkv", {"-c:v", "mjpeg", "-bsf:v", "setts=ts=floor(N/2)*2/30/TB"}},
        {"no times at all", "h264", QStringList{"-c:v", "libx264", "-g", "20", "-bf", "0"}},
        {"no times, b-frames", "h264", x264},
        // Shapes and colours.
        {"odd size", "mp4", x264 + QStringList{"-pix_fmt", "yuv444p"}, sized("101x75")},
        {"portrait", "mp4", x264, sized("108x192")},
        {"wide pixels", "mp4", x264 + QStringList{"-vf", "setsar=4/3"}},
        {"turned 90", "mp4", x264 + QStringList{"-metadata:s:v:0", "rotate=90"}},
        {"turned 180", "mp4", x264 + QStringList{"-metadata:s:v:0", "rotate=180"}},
        {"turned 270", "mov", x264 + QStringList{"-metadata:s:v:0", "rotate=270"}},
        {"10 bit h264", "mp4", x264 + QStringList{"-pix_fmt", "yuv420p10le"}},
        {"10 bit hevc", "mp4", x265 + QStringList{"-pix_fmt", "yuv420p10le"}},
        {"4:2:2", "mov", x264 + QStringList{"-pix_fmt", "yuv422p"}},
        {"full range", "mp4", x264 + QStringList{"-pix_fmt", "yuvj420p", "-color_range", "pc"}},
        {"bt709 marked", "mp4",
         x264 + QStringList{"-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc",
                            "bt709"}},
        {"interlaced h264", "mp4",
         x264 + QStringList{"-flags", "+ilme+ildct", "-x264-params", "tff=1"}},
        {"4K",
         "mp4",
         {"-c:v", "libx264", "-preset", "ultrafast", "-g", "8"},
         {"-f", "lavfi", "-i", "testsrc2=size=3840x2160:rate=30:duration=0.5"}},
        {"full range bt709", "mp4",
         x264 + QStringList{"-pix_fmt", "yuvj420p", "-color_range", "pc", "-colorspace", "bt709"}},
        {"bt601 marked", "mp4",
         x264 + QStringList{"-colorspace", "smpte170m", "-color_primaries", "smpte170m",
                            "-color_trc", "smpte170m"}},
        {"10 bit vp9", "webm", vp9 + QStringList{"-pix_fmt", "yuv420p10le"}},
        {"interlaced mpeg2, bottom first", "mkv",
         QStringList{"-c:v", "mpeg2video", "-flags", "+ilme+ildct", "-g", "12", "-bf", "2", "-vf",
                     "setfield=bff"}},
        {.name = "change of size",
         .ending = "ts",
         .how = x264,
         .source = sized("192x108"),
         .thenSource = {"-f", "lavfi", "-i", "testsrc2=size=128x96:rate=30:duration=1",
                        "-output_ts_offset", "2.2"}},
        {.name = "change of size mpeg4",
         .ending = "ts",
         .how = QStringList{"-c:v", "mpeg4", "-g", "12"},
         .source = sized("160x120"),
         .thenSource = {"-f", "lavfi", "-i", "testsrc2=size=320x240:rate=30:duration=1",
                        "-output_ts_offset", "2.2"}},
        // Edit lists that leave the start out.
        {.name = "cut by edit list", .ending = "mp4", .how = x264, .cutBy = {"-ss", "0.9"}},
        {.name = "cut by edit list, long group",
         .ending = "mov",
         .how = {"-c:v", "libx264", "-g", "9999", "-bf", "3"},
         .cutBy = {"-ss", "1.23"}},
        // Numbered pictures.
        {.name = "numbered png", .ending = "png", .how = {"-frames:v", "20"}, .firstPicture = 1},
        {.name = "numbered jpeg from 1175",
         .ending = "jpg",
         .how = {"-frames:v", "20", "-q:v", "3"},
         .firstPicture = 1175},
        // Cut off while being copied.
        {"cut off mkv", "mkv", x264, {}, 0.6},
        {"cut off transport stream", "ts", x264, {}, 0.55},
        {"cut off avi", "avi", mpeg4, {}, 0.7},
        {"cut off fragmented",
         "mp4",
         x264 + QStringList{"-movflags", "frag_keyframe+empty_moov"},
         {},
         0.6},
    };
}

namespace {

std::filesystem::path pathOf(const CorpusFilm& film, const std::filesystem::path& folder,
                             const std::string& number) {
    std::string stem = film.name;
    std::replace_if(
        stem.begin(), stem.end(), [](char c) { return c == ' ' || c == '/' || c == ':'; }, '-');
    return folder / (stem + number + "." + film.ending);
}

void append(const std::filesystem::path& more, const std::filesystem::path& to) {
    std::ofstream(to, std::ios::binary | std::ios::app)
        << std::ifstream(more, std::ios::binary).rdbuf();
}

} // namespace

std::filesystem::path madeFilm(const CorpusFilm& film, const std::filesystem::path& folder) {
    const QStringList source =
        film.source.isEmpty()
            ? QStringList{"-f", "lavfi", "-i", "testsrc2=size=192x108:rate=30:duration=2.5"}
            : film.source;
    if (film.firstPicture >= 0) {
        const auto first = pathOf(film, folder, "-" + std::to_string(10000 + film.firstPicture));
        if (!std::filesystem::exists(first)) {
            makeFilm(source + film.how +
                         QStringList{"-start_number", QString::number(10000 + film.firstPicture)},
                     pathOf(film, folder, "-%05d"));
        }
        return first;
    }
    const std::filesystem::path file = pathOf(film, folder, "");
    if (std::filesystem::exists(file)) {
        return file;
    }
    makeFilm(source + film.how, file);
    if (!film.thenSource.isEmpty()) {
        const std::filesystem::path second = pathOf(film, folder, "-second");
        makeFilm(film.thenSource + film.how, second);
        append(second, file);
        std::filesystem::remove(second);
    }
    if (!film.cutBy.isEmpty()) {
        const std::filesystem::path whole = pathOf(film, folder, "-whole");
        std::filesystem::rename(file, whole);
        makeFilm(film.cutBy +
                     QStringList{"-i", QString::fromStdString(whole.string()), "-c", "copy"},
                 file);
        std::filesystem::remove(whole);
    }
    if (film.keep < 1.0) {
        std::filesystem::resize_file(
            file, static_cast<std::uintmax_t>(
                      film.keep * static_cast<double>(std::filesystem::file_size(file))));
    }
    return file;
}

std::vector<std::string> corpusHashes(const CorpusFilm& film, const std::filesystem::path& folder) {
    const std::filesystem::path file = madeFilm(film, folder);
    return film.firstPicture < 0
               ? framehash(file)
               : framehash(pathOf(film, folder, "-%05d"),
                           {"-start_number", QString::number(10000 + film.firstPicture)});
}

} // namespace kestrel::support
