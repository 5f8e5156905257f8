#pragma once

#include <QByteArray>
#include <QString>
#include <QStringList>

#include <filesystem>
#include <string>
#include <vector>

/// Other programs, as independent witnesses.
namespace kestrel::support {

struct Outcome {
    int exitCode = -1;
    QByteArray out;
    QByteArray err;
};

/// Runs a program to its end (two minutes at most).
Outcome run(const QString& program, const QStringList& arguments);

/// MD5 of every frame as the ffmpeg command's own framehash prints it, in presentation order, each
/// frame in its own size. `how` are input options.
std::vector<std::string> framehash(const std::filesystem::path& film, const QStringList& how = {});

/// Makes a film with the ffmpeg command; `arguments` come before the output file. Throws when it
/// fails.
void makeFilm(const QStringList& arguments, const std::filesystem::path& film);

} // namespace kestrel::support
