#include "app/packs/pack_reader.h"

#include "app/shared/pose_pictures.h"
#include "report/pack_page.h"

#include <QScrollBar>

namespace kestrel::app {

PackReader::PackReader(desk::Shelf& shelf, QWidget* parent) : QTextBrowser(parent), shelf_(shelf) {
    setObjectName("packPage");
    setAccessibleName(tr("The pack to read"));
    setOpenLinks(false);
}

PackReader::~PackReader() {
    job_.cancel();
}

void PackReader::setPack(const technique::Pack& pack) {
    const bool same = pack_ && pack_->id == pack.id;
    const int scrolled = verticalScrollBar()->value();
    pack_ = std::make_unique<technique::Pack>(pack);
    const std::string technique = poseTechnique(pack);
    if (!technique.empty() && !pictures_.contains(technique)) {
        pictures_[technique] = keptPosePictures(technique);
        if (pictures_[technique].empty()) {
            pictures_.erase(technique); // until they are drawn
            drawPictures(technique);
        }
    }
    showPage();
    verticalScrollBar()->setValue(same ? scrolled : 0);
}

void PackReader::setLoadRule(const coaching::LoadRule& rule) {
    pack_.reset();
    images_.clear();
    const auto escaped = [](const std::string& s) {
        return QString::fromStdString(s).toHtmlEscaped();
    };
    QString html = "<h1>" + escaped(rule.name) + "</h1><p>" + escaped(rule.basis) + "</p><ul>";
    for (const coaching::LoadRule::Band& band : rule.bands) {
        QStringList rests;
        for (const coaching::LoadRule::Rest& rest : band.rest) {
            rests
                << tr("%n day(s) after %1 throws or more", nullptr, rest.days).arg(rest.fromThrows);
        }
        html +=
            "<li>" +
            (band.ageTo ? tr("<b>Up to %1 years:</b> ").arg(*band.ageTo) : tr("<b>Older:</b> ")) +
            rests.join(", ") + "</li>";
    }
    setHtml(
        html + "</ul>" +
        tr("<p>Homework keeps drills with throws off these days. Put in the rule of your league "
           "or federation under <b>Change</b>; pain outranks every rule: stop, and see a "
           "licensed professional.</p>"));
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
    job_.cancel();
    drawing_ = true;
    job_ = desk::runJob(
        this,
        [technique, view = pack_->filming.view](const desk::TellShare& tell) {
            return drawPosePictures(technique, view, [&] { return tell(0.0); });
        },
        [this, technique](PosePictures pictures) {
            drawing_ = false;
            pictures_[technique] = std::move(pictures);
            if (pack_) {
                const int scrolled = verticalScrollBar()->value();
                showPage();
                verticalScrollBar()->setValue(scrolled);
            }
            emit finished();
        },
        [this](const std::exception_ptr&) {
            drawing_ = false; // a page without pictures is still a page
            emit finished();
        });
}

void PackReader::showPage() {
    const std::string technique = pictures_.contains(pack_->id) ? pack_->id : pack_->basedOn;
    const auto pictures = pictures_.find(technique);
    report::PackPage page = report::packPage(
        *pack_, shelf_.drills(), pictures == pictures_.end() ? PosePictures() : pictures->second,
        posePictureWidth);
    images_ = std::move(page.images);
    setHtml(page.html);
}

QVariant PackReader::loadResource(int type, const QUrl& name) {
    const auto image = images_.find(name.toString());
    return image == images_.end() ? QTextBrowser::loadResource(type, name) : image->second;
}

} // namespace kestrel::app
