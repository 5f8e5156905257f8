#include "film/frame_reader.h"

#include "model/input_error.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
}

#include <algorithm>
#include <limits>

namespace kestrel::film {

FrameReader::FrameReader(const FilmIndex& index, int threads)
    : index_(index),
      input_(openInput(index.file)),
      frame_(av_frame_alloc()),
      packet_(av_packet_alloc()),
      streamNumber_(videoStream(*input_, index.file)) {
    input_->flags |= AVFMT_FLAG_GENPTS;
    const AVStream* stream = input_->streams[streamNumber_];
    const AVCodec* codec = avcodec_find_decoder(stream->codecpar->codec_id);
    if (codec != nullptr) {
        codec_.reset(avcodec_alloc_context3(codec));
    }
    if (!codec_ || avcodec_parameters_to_context(codec_.get(), stream->codecpar) < 0) {
        throw model::InputError(
            model::message("film.codec_unknown", index.file.filename().string(), index.codec),
            model::message("safe.file_not_changed"), model::message("todo.save_as_mp4"));
    }
    codec_->pkt_timebase = stream->time_base;
    codec_->thread_count = threads;
    if (const int opened = avcodec_open2(codec_.get(), codec, nullptr); opened < 0) {
        throw model::InputError(
            model::message("film.not_decoded", index.file.filename().string(), errorText(opened)),
            model::message("safe.file_not_changed"), model::message("todo.save_as_mp4"));
    }
}

int FrameReader::keyFrameAtOrBefore(int frame) const {
    const auto at = [&](int f) -> const IndexedFrame& {
        return index_.frames[static_cast<std::size_t>(f)];
    };
    // A time that two frames share says not where a seek lands.
    const auto shared = [&](int f) {
        return at(f - 1).pts == at(f).pts ||
               (f + 1 < index_.frameCount() && at(f + 1).pts == at(f).pts);
    };
    while (frame > 0 && (!at(frame).key || shared(frame))) {
        --frame;
    }
    return frame;
}

int FrameReader::indexOf(const AVFrame& decoded) const {
    const std::int64_t pts = decoded.best_effort_timestamp;
    // Of frames that carry the same time, the one after the last decoded.
    const std::size_t next = static_cast<std::size_t>(lastDecoded_) + 1;
    if (lastDecoded_ >= 0 && next < index_.frames.size() && index_.frames[next].pts == pts) {
        return static_cast<int>(next);
    }
    const auto found =
        std::lower_bound(index_.frames.begin(), index_.frames.end(), pts,
                         [](const IndexedFrame& f, std::int64_t t) { return f.pts < t; });
    return found != index_.frames.end() && found->pts == pts
               ? static_cast<int>(found - index_.frames.begin())
               : -1;
}

void FrameReader::seekTo(int keyFrame) {
    // The very first frames may carry times that seeking by time cannot reach (edit lists), so the
    // start of the file is asked for as such.
    const std::int64_t target = keyFrame == 0
                                    ? std::numeric_limits<std::int64_t>::min()
                                    : index_.frames[static_cast<std::size_t>(keyFrame)].pts;
    const std::int64_t latest = keyFrame == 0 ? index_.frames.front().pts : target;
    if (avformat_seek_file(input_.get(), streamNumber_, std::numeric_limits<std::int64_t>::min(),
                           keyFrame == 0 ? latest : target, latest, 0) < 0) {
        av_seek_frame(input_.get(), streamNumber_, latest, AVSEEK_FLAG_BACKWARD);
    }
    avcodec_flush_buffers(codec_.get());
    draining_ = false;
    positioned_ = true;
    lastDecoded_ = -1;
}

void FrameReader::rewind() {
    input_ = openInput(index_.file);
    input_->flags |= AVFMT_FLAG_GENPTS;
    avcodec_flush_buffers(codec_.get());
    draining_ = false;
    positioned_ = true;
    lastDecoded_ = -1;
}

bool FrameReader::decodeNext() {
    while (true) {
        const int received = avcodec_receive_frame(codec_.get(), frame_.get());
        if (received >= 0) {
            return true;
        }
        if (received == AVERROR_EOF || draining_) {
            return false;
        }
        if (av_read_frame(input_.get(), packet_.get()) < 0) {
            avcodec_send_packet(codec_.get(), nullptr);
            draining_ = true;
            continue;
        }
        if (packet_->stream_index == streamNumber_) {
            avcodec_send_packet(codec_.get(), packet_.get()); // a damaged packet gives no frame
        }
        av_packet_unref(packet_.get());
    }
}

void FrameReader::reachByCounting(int frame, const Visit& visit) {
    if (frame < lastDecoded_ || !positioned_) {
        rewind();
    }
    while (lastDecoded_ < frame) {
        if (!decodeNext()) {
            damaged(frame);
        }
        ++lastDecoded_;
        if (visit && !visit(lastDecoded_, *frame_)) {
            return;
        }
    }
}

void FrameReader::damaged(int frame) {
    positioned_ = false;
    lastDecoded_ = -1;
    damaged_ = frame; // asking again does not make it whole
    throw model::InputError(
        model::message("film.frame_damaged", frame, index_.file.filename().string()),
        model::message("safe.other_frames"), model::message("todo.neighbouring_frame"));
}

const AVFrame& FrameReader::read(int frame) {
    if (frame != lastDecoded_ || frame < 0) {
        reach(frame, {});
    }
    return *frame_;
}

void FrameReader::readThrough(int frame, const Visit& visit) {
    if (frame == lastDecoded_ && frame >= 0) {
        visit(frame, *frame_);
    } else {
        reach(frame, visit);
    }
}

void FrameReader::reach(int frame, const Visit& visit) {
    if (frame < 0 || frame >= index_.frameCount()) {
        throw std::out_of_range("frame " + std::to_string(frame) + " of " +
                                std::to_string(index_.frameCount()));
    }
    if (frame == damaged_) {
        damaged(frame);
    }
    if (index_.timesCounted) {
        reachByCounting(frame, visit);
        return;
    }
    int start = keyFrameAtOrBefore(frame);
    int keyFramesBack = 1;
    bool fromBeginning = false;
    const bool goOn =
        positioned_ && lastDecoded_ >= 0 && lastDecoded_ < frame && start <= lastDecoded_;
    if (!goOn) {
        seekTo(start);
    }
    while (true) {
        while (decodeNext()) {
            const int decoded = indexOf(*frame_);
            if (decoded < 0) {
                continue;
            }
            lastDecoded_ = decoded;
            if (decoded > frame) {
                break;
            }
            if ((visit && !visit(decoded, *frame_)) || decoded == frame) {
                return;
            }
        }
        // The seek landed too late, or a frame on the way was lost: start earlier, twice as many
        // key frames each time so that a damaged film does not take for ever, and in the end from
        // the very beginning of the file (transport streams cannot seek there).
        if (start == 0 && !fromBeginning) {
            fromBeginning = true;
            rewind();
            continue;
        }
        if (start == 0) {
            damaged(frame);
        }
        for (int back = 0; back < keyFramesBack && start > 0; ++back) {
            start = keyFrameAtOrBefore(start - 1);
        }
        keyFramesBack *= 2;
        seekTo(start);
    }
}

} // namespace kestrel::film
