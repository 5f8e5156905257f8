#pragma once

#include <QStringList>

#include <filesystem>
#include <string>
#include <vector>

/// Small films of every kind a coach may bring, made by the ffmpeg command.
namespace kestrel::support {

struct CorpusFilm {
    std::string name;        ///< "h264 b-pyramid"
    std::string ending;      ///< container
    QStringList how;         ///< what ffmpeg is told between source and file
    QStringList source = {}; ///< input options; the usual moving test picture when empty
    double keep = 1.0;       ///< part of the file's bytes that is kept: cut off when below 1
    /// Input options of a second film, made the same way, whose bytes follow the first one's.
    QStringList thenSource = {};
    /// Options of a copy without decoding that cuts the film's start away, leaving an edit list.
    QStringList cutBy = {};
    /// Number of the first picture when the film is a sequence of numbered pictures.
    int firstPicture = -1;
};

/// More than forty kinds: codecs, containers, group structures, clocks, sizes, colours, damage.
std::vector<CorpusFilm> filmCorpus();

/// Makes a film of the corpus in `folder` unless it is there; its path (of a sequence, the first
/// picture's). Throws when ffmpeg fails.
std::filesystem::path madeFilm(const CorpusFilm& film, const std::filesystem::path& folder);

/// MD5 of its frames as the ffmpeg command decodes it.
std::vector<std::string> corpusHashes(const CorpusFilm& film, const std::filesystem::path& folder);

} // namespace kestrel::support
