#include "app/plan/voice.h"

#include "film/sound.h"

#include <QAudioFormat>
#include <QAudioSink>
#include <QAudioSource>
#include <QBuffer>
#include <QElapsedTimer>
#include <QMediaDevices>

#include <algorithm>
#include <cstring>

namespace kestrel::app {
namespace {

constexpr const char* simulated = "KESTREL_MICROPHONE";

QAudioFormat monoFormat() {
    QAudioFormat format;
    format.setSampleRate(film::soundRate);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Float);
    return format;
}

} // namespace

struct VoiceRecorder::Source {
    virtual ~Source() = default;
    virtual std::vector<float> heard() = 0;
};

struct VoiceRecorder::Microphone : VoiceRecorder::Source {
    Microphone() : source(QMediaDevices::defaultAudioInput(), monoFormat()) {
        buffer.open(QIODevice::WriteOnly);
        source.start(&buffer);
    }
    std::vector<float> heard() override {
        source.stop();
        const QByteArray& bytes = buffer.data();
        std::vector<float> samples(static_cast<std::size_t>(bytes.size()) / sizeof(float));
        std::memcpy(samples.data(), bytes.constData(), samples.size() * sizeof(float));
        return samples;
    }
    QBuffer buffer; // outlives the source that writes to it
    QAudioSource source;
};

struct VoiceRecorder::Simulated : VoiceRecorder::Source {
    explicit Simulated(const std::filesystem::path& file) : sound(film::readSound(file)) {
        clock.start();
    }
    std::vector<float> heard() override {
        constexpr qint64 perSecond = 1000;
        const auto heard = static_cast<std::size_t>(clock.elapsed() * film::soundRate / perSecond);
        std::vector<float> samples = sound;
        samples.resize(heard, 0.0F); // silence after its end
        return samples;
    }
    std::vector<float> sound;
    QElapsedTimer clock;
};

VoiceRecorder::VoiceRecorder(QObject* parent) : QObject(parent) {}
VoiceRecorder::~VoiceRecorder() = default;

QString VoiceRecorder::hindrance() {
    if (qEnvironmentVariableIsSet(simulated) || !QMediaDevices::defaultAudioInput().isNull()) {
        return {};
    }
    return tr("This computer has no microphone. A recording made elsewhere can be brought in.");
}

void VoiceRecorder::start() {
    if (qEnvironmentVariableIsSet(simulated)) {
        source_ = std::make_unique<Simulated>(qEnvironmentVariable(simulated).toStdString());
    } else {
        source_ = std::make_unique<Microphone>();
    }
}

std::vector<float> VoiceRecorder::stop() {
    std::vector<float> samples;
    if (source_) {
        samples = source_->heard();
        source_.reset();
    }
    return samples;
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
