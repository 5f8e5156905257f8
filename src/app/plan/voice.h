#pragma once

#include <QObject>
#include <QString>

#include <functional>
#include <memory>
#include <optional>
#include <vector>

/// The voice of a review film: recorded and played with Qt Multimedia.
namespace kestrel::app {

/// What can be listened to; it listens from when it was made.
class SoundSource {
  public:
    SoundSource() = default;
    virtual ~SoundSource() = default;
    SoundSource(const SoundSource&) = delete;
    SoundSource& operator=(const SoundSource&) = delete;
    /// Ends it; what was heard, mono at film::soundRate.
    virtual std::vector<float> heard() = 0;
};

/// Opens something to listen to.
using OpenSound = std::function<std::unique_ptr<SoundSource>()>;

/// The microphone of this computer; nothing when it has none.
std::optional<OpenSound> microphone();

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
