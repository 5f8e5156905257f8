#include "support/commands.h"

#include <QProcess>

#include <stdexcept>

namespace kestrel::support {

Outcome run(const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    // A command that hangs is ended before Qt Test ends the test function; a busy machine is not.
    constexpr int patienceMs = 240000;
    Outcome outcome;
    if (process.waitForFinished(patienceMs) && process.exitStatus() == QProcess::NormalExit) {
        outcome.exitCode = process.exitCode();
    }
    outcome.out = process.readAllStandardOutput();
    outcome.err = process.readAllStandardError();
    return outcome;
}

std::vector<std::string> framehash(const std::filesystem::path& film, const QStringList& how) {
    const Outcome outcome =
        run("ffmpeg", QStringList{"-v", "error", "-noautorotate"} + how +
                          QStringList{"-i", QString::fromStdString(film.string()), "-map", "0:v:0",
                                      "-fps_mode", "passthrough", "-autoscale", "0", "-f",
                                      "framehash", "-hash", "md5", "-"});
    std::vector<std::string> hashes;
    for (const QByteArray& line : outcome.out.split('\n')) {
        if (!line.isEmpty() && !line.startsWith('#')) {
            hashes.push_back(line.split(',').last().trimmed().toStdString());
        }
    }
    return hashes;
}

void makeFilm(const QStringList& arguments, const std::filesystem::path& film) {
    QStringList all{"-y", "-v", "error"};
    all += arguments;
    all << QString::fromStdString(film.string());
    const Outcome outcome = run("ffmpeg", all);
    if (outcome.exitCode != 0) {
        throw std::runtime_error("ffmpeg: " + outcome.err.toStdString());
    }
}

} // namespace kestrel::support
