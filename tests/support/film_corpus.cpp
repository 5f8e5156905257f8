#include "support/film_corpus.h"

#include "support/commands.h"

#include <algorithm>

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

std::filesystem::path madeFilm(const CorpusFilm& film, const std::filesystem::path& folder) {
    std::string stem = film.name;
    std::replace_if(
        stem.begin(), stem.end(), [](char c) { return c == ' ' || c == '/' || c == ':'; }, '-');
    const std::filesystem::path file = folder / (stem + "." + film.ending);
    if (!std::filesystem::exists(file)) {
        const QStringList source =
            film.source.isEmpty()
                ? QStringList{"-f", "lavfi", "-i", "testsrc2=size=192x108:rate=30:duration=2.5"}
                : film.source;
        makeFilm(source + film.how, file);
        if (film.keep < 1.0) {
            std::filesystem::resize_file(
                file, static_cast<std::uintmax_t>(
                          film.keep * static_cast<double>(std::filesystem::file_size(file))));
        }
    }
    return file;
}

} // namespace kestrel::support
