#include "app/plan/voice.h"

#include "film/sound.h"

#include <QAudioFormat>
#include <QAudioSink>
#include <QAudioSource>
#include <QBuffer>
#include <QMediaDevices>

#include <cstring>

namespace kestrel::app {
namespace {

QAudioFormat monoFormat() {
    QAudioFormat format;
    format.setSampleRate(film::soundRate);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Float);
    return format;
}

class Microphone : public SoundSource {
  public:
    Microphone() : source_(QMediaDevices::defaultAudioInput(), monoFormat()) {
        buffer_.open(QIODevice::WriteOnly);
        source_.start(&buffer_);
    }
    std::vector<float> heard() override {
        source_.stop();
        const QByteArray& bytes = buffer_.data();
        std::vector<float> samples(static_cast<std::size_t>(bytes.size()) / sizeof(float));
        std::memcpy(samples.data(), bytes.constData(), samples.size() * sizeof(float));
        return samples;
    }

  private:
    QBuffer buffer_; // outlives the source that writes to it
    QAudioSource source_;
};

} // namespace

std::optional<OpenSound> microphone() {
    if (QMediaDevices::defaultAudioInput().isNull()) {
        return std::nullopt;
    }
    return [] { return std::make_unique<Microphone>(); };
}

struct VoicePlayer::Playing {
    explicit Playing(std::vector<float> samples)
        : bytes(reinterpret_cast<const char*>(samples.data()),
                static_cast<qsizetype>(samples.size() * sizeof(float))),
          sink(QMediaDevices::defaultAudioOutput(), monoFormat()) {
        buffer.setData(bytes);
        buffer.open(QIODevice::ReadOnly);
        sink.start(&buffer);
    }
    QByteArray bytes;
    QBuffer buffer;
    QAudioSink sink;
};

VoicePlayer::VoicePlayer(QObject* parent) : QObject(parent) {}
VoicePlayer::~VoicePlayer() = default;

void VoicePlayer::play(std::vector<float> samples) {
    playing_.reset();
    if (!QMediaDevices::defaultAudioOutput().isNull()) {
        playing_ = std::make_unique<Playing>(std::move(samples));
    }
}

void VoicePlayer::stop() {
    playing_.reset();
}

} // namespace kestrel::app
