#pragma once

#include <QStringList>

#include <filesystem>
#include <string>
#include <vector>

/// Small films of every kind a coach may bring, made by the ffmpeg command.
namespace kestrel::support {

struct CorpusFilm {
    std::string name;   ///< "h264 b-pyramid"
    std::string ending; ///< container
    QStringList how;    ///< what ffmpeg is told between source and file
    QStringList source = {}; ///< input options; the usual moving test picture when empty
    double keep = 1.0;  ///< part of the file's bytes that is kept: cut off when below 1
};

/// More than forty kinds: codecs, containers, group structures, clocks, sizes, colours, damage.
std::vector<CorpusFilm> filmCorpus();

/// Makes a film of the corpus in `folder` unless it is there; its path. Throws when ffmpeg fails.
std::filesystem::path madeFilm(const CorpusFilm& film, const std::filesystem::path& folder);

} // namespace kestrel::support
