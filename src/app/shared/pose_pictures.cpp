#include "app/shared/pose_pictures.h"

#include "report/picture_image.h"
#include "synth/contact_sheet.h"
#include "synth/motion_sheet.h"
#include "synth/outfits.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QStandardPaths>

#include <filesystem>

namespace kestrel::app {
namespace {

constexpr int pictureHeight = 225;

/// Where the pictures of a technique are kept; new motions get a new folder.
QDir pictureFolder(const std::string& technique) {
    QFile motion(QString::fromStdString(synth::motionSheetFile(technique).string()));
    QByteArray content;
    if (motion.open(QIODevice::ReadOnly)) {
        content = motion.readAll();
    }
    const QString hash = QString::fromLatin1(
        QCryptographicHash::hash(content, QCryptographicHash::Sha256).toHex().left(16));
    return {QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/positions/" +
            QString::fromStdString(technique) + "-" + hash};
}

synth::PlayerSpec playerOf(const std::string& technique) {
    synth::PlayerSpec player;
    player.technique = technique;
    return player;
}

synth::Outfit outfitOf(const std::string& technique) {
    return synth::outfitFor(technique, 3);
}

QImage asImage(film::Picture picture) {
    return report::imageOf(std::make_shared<const film::Picture>(std::move(picture))).copy();
}

} // namespace

std::string poseTechnique(const technique::Pack& pack) {
    for (const std::string& id : {pack.id, pack.basedOn}) {
        if (!id.empty() && std::filesystem::exists(synth::motionSheetFile(id))) {
            return id;
        }
    }
    return {};
}

PosePictures keptPosePictures(const std::string& technique) {
    PosePictures pictures;
    const QDir folder = pictureFolder(technique);
    for (const QString& name : folder.entryList({"*.png"}, QDir::Files)) {
        pictures[name.chopped(4).toStdString()] = QImage(folder.filePath(name));
    }
    return pictures;
}

PosePictures drawPosePictures(const std::string& technique, model::View view,
                              const std::function<bool()>& goOn) {
    PosePictures pictures;
    for (auto& [id, picture] :
         synth::positionPictures(playerOf(technique), outfitOf(technique), view, posePictureWidth,
                                 pictureHeight, goOn)) {
        pictures[id] = asImage(std::move(picture));
    }
    const QDir folder = pictureFolder(technique);
    folder.mkpath(".");
    for (const auto& [id, image] : pictures) {
        image.save(folder.filePath(QString::fromStdString(id) + ".png"), "PNG");
    }
    return pictures;
}

QImage posePicture(const technique::Pack& pack, const std::string& position) {
    const std::string technique = poseTechnique(pack);
    if (technique.empty()) {
        return {};
    }
    if (const PosePictures kept = keptPosePictures(technique); kept.contains(position)) {
        return kept.at(position);
    }
    auto drawn = synth::positionPicture(playerOf(technique), outfitOf(technique), pack.filming.view,
                                        posePictureWidth, pictureHeight, position);
    return drawn ? asImage(std::move(*drawn)) : QImage();
}

} // namespace kestrel::app
