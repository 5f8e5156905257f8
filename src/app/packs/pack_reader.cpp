#include "app/packs/pack_reader.h"

#include "app/background.h"
#include "demo/contact_sheet.h"
#include "demo/motion_sheet.h"
#include "demo/outfits.h"
#include "report/pack_page.h"
#include "report/picture_image.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QScrollBar>
#include <QStandardPaths>

#include <atomic>

namespace kestrel::app {
namespace {

constexpr int pictureWidth = 300;
constexpr int pictureHeight = 225;

/// Where the pictures of a technique are kept; new motions get a new folder.
QDir pictureFolder(const std::string& technique) {
    QFile motion(QString::fromStdString(demo::motionSheetFile(technique).string()));
    QByteArray content;
    if (motion.open(QIODevice::ReadOnly)) {
        content = motion.readAll();
    }
    const QString hash = QString::fromLatin1(
        QCryptographicHash::hash(content, QCryptographicHash::Sha256).toHex().left(16));
    return {QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/positions/" +
            QString::fromStdString(technique) + "-" + hash};
}

using Pictures = std::map<std::string, QImage>;

Pictures kept(const std::string& technique) {
    Pictures pictures;
    const QDir folder = pictureFolder(technique);
    for (const QString& name : folder.entryList({"*.png"}, QDir::Files)) {
        pictures[name.chopped(4).toStdString()] = QImage(folder.filePath(name));
    }
    return pictures;
}

Pictures drawn(const std::string& technique, model::View view, const std::function<bool()>& goOn) {
    demo::PlayerSpec player;
    player.technique = technique;
    Pictures pictures;
    for (auto& [id, picture] : demo::positionPictures(player, demo::outfitFor(technique, 3), view,
                                                      pictureWidth, pictureHeight, goOn)) {
        pictures[id] =
            report::imageOf(std::make_shared<const film::Picture>(std::move(picture))).copy();
    }
    const QDir folder = pictureFolder(technique);
    folder.mkpath(".");
    for (const auto& [id, image] : pictures) {
        image.save(folder.filePath(QString::fromStdString(id) + ".png"), "PNG");
    }
    return pictures;
}

} // namespace

/// Pictures being drawn, shared with the thread that draws them.
struct PackReader::Drawing {
    std::atomic<bool> cancelled = false;
};

PackReader::PackReader(Session& session, QWidget* parent)
    : QTextBrowser(parent), session_(session) {
    setObjectName("packPage");
    setAccessibleName(tr("The pack to read"));
    setOpenLinks(false);
}

PackReader::~PackReader() {
    if (drawing_) {
        drawing_->cancelled = true;
    }
}

void PackReader::setPack(const technique::Pack& pack) {
    const bool same = pack_ && pack_->id == pack.id;
    const int scrolled = verticalScrollBar()->value();
    pack_ = std::make_unique<technique::Pack>(pack);
    const std::string technique =
        std::filesystem::exists(demo::motionSheetFile(pack.id)) ? pack.id : pack.basedOn;
    if (!technique.empty() && !pictures_.contains(technique)) {
        pictures_[technique] = kept(technique);
        if (pictures_[technique].empty() &&
            std::filesystem::exists(demo::motionSheetFile(technique))) {
            drawPictures(technique);
        }
    }
    showPage();
    verticalScrollBar()->setValue(same ? scrolled : 0);
}

void PackReader::setDrills(const coaching::DrillLibrary& drills) {
    pack_.reset();
    images_.clear();
    setHtml(
        drills.empty()
            ? tr("<p>You have no drills of your own yet. Under <b>Change</b> choose <b>Drills</b> "
                 "and press <b>Add</b>; the faults of your packs can name them then.</p>")
            : report::drillsHtml(drills));
}

void PackReader::drawPictures(const std::string& technique) {
    if (drawing_) {
        drawing_->cancelled = true;
    }
    auto drawing = std::make_shared<Drawing>();
    drawing_ = drawing;
    inBackground(
        this,
        [technique, view = pack_->filming.view, drawing] {
            return drawn(technique, view, [drawing] { return !drawing->cancelled.load(); });
        },
        [this, technique, drawing](Pictures pictures) {
            if (drawing_ == drawing) {
                drawing_.reset();
            }
            if (pictures.empty()) {
                pictures_.erase(technique); // was cancelled; the next time draws them
                return;
            }
            pictures_[technique] = std::move(pictures);
            if (pack_) {
                const int scrolled = verticalScrollBar()->value();
                showPage();
                verticalScrollBar()->setValue(scrolled);
            }
            emit finished();
        },
        [this, drawing](const std::exception_ptr&) {
            // A page without pictures is still a page.
            if (drawing_ == drawing) {
                drawing_.reset();
            }
            emit finished();
        });
}

void PackReader::showPage() {
    const std::string technique = pictures_.contains(pack_->id) ? pack_->id : pack_->basedOn;
    const auto pictures = pictures_.find(technique);
    report::PackPage page =
        report::packPage(*pack_, session_.drills(),
                         pictures == pictures_.end() ? Pictures() : pictures->second, pictureWidth);
    images_ = std::move(page.images);
    setHtml(page.html);
}

QVariant PackReader::loadResource(int type, const QUrl& name) {
    const auto image = images_.find(name.toString());
    return image == images_.end() ? QTextBrowser::loadResource(type, name) : image->second;
}

} // namespace kestrel::app
