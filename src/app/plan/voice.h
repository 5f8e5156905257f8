#pragma once

#include <QObject>
#include <QString>

#include <memory>
#include <vector>

/// The voice of a review film: recorded and played with Qt Multimedia.
namespace kestrel::app {

/// Records mono sound from the microphone of this computer. Where the environment names a sound
/// file in KESTREL_MICROPHONE, that file is heard instead, as fast as it sounds: for tests, and for
/// trying things out without a microphone.
class VoiceRecorder : public QObject {
    Q_OBJECT
  public:
    explicit VoiceRecorder(QObject* parent = nullptr);
    ~VoiceRecorder() override;

    /// Why nothing can be recorded here; empty when it can.
    [[nodiscard]] static QString hindrance();
    void start();
    [[nodiscard]] bool isRecording() const { return source_ != nullptr; }
    /// Ends it; what was heard, at film::soundRate.
    std::vector<float> stop();

  private:
    struct Source;
    struct Microphone;
    struct Simulated;
    std::unique_ptr<Source> source_;
};

/// Plays mono sound; silent where this computer has no output.
class VoicePlayer : public QObject {
    Q_OBJECT
  public:
    explicit VoicePlayer(QObject* parent = nullptr);
    ~VoicePlayer() override;

    /// Plays samples at film::soundRate from the start; what was playing ends.
    void play(std::vector<float> samples);
    void stop();

  private:
    struct Playing;
    std::unique_ptr<Playing> playing_;
};

} // namespace kestrel::app
