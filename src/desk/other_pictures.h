#pragma once

#include "desk/job.h"
#include "film/frame_server.h"
#include "prepare/pose_model.h"

#include <QImage>
#include <QObject>

#include <map>
#include <memory>

namespace kestrel::desk {

/// Pictures of the rep that the open one is compared with, decoded or drawn beside the interface.
class OtherPictures : public QObject {
    Q_OBJECT
  public:
    /// Of a film, with its share of the cache.
    OtherPictures(const film::FilmIndex& index, std::shared_ptr<film::FrameCache> cache);
    /// Of the pose model, drawn when they are asked for and then ahead of it.
    explicit OtherPictures(std::shared_ptr<const prepare::PoseModel> model);
    ~OtherPictures() override;

    /// Asks for a frame; a newer wish replaces one not yet begun.
    void want(int frame);
    /// The picture of a frame when it is there, else null; ready() announces others.
    [[nodiscard]] QImage picture(int frame) const;
    /// The nearest picture that is there; may be null.
    [[nodiscard]] QImage nearest(int frame) const;
    /// Of all its pictures.
    [[nodiscard]] QSize size() const { return size_; }

  signals:
    void ready(int frame);
    void failed(const std::exception_ptr& error);

  private:
    void drawNext();
    void keep(int frame, QImage image);

    QSize size_;
    std::unique_ptr<film::FrameServer> server_; ///< of a film

    // Of a pose model.
    std::shared_ptr<const prepare::PoseModel> model_;
    std::shared_ptr<const prepare::PoseModelPictures> drawing_; ///< made by the first job
    std::map<int, QImage> drawn_;
    int wanted_ = 0;
    bool busy_ = false;
    Job job_;
};

} // namespace kestrel::desk
