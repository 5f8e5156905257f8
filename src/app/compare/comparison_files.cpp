#include "app/compare/comparison_files.h"

#include "app/compare/comparison_material.h"
#include "app/shared/consent.h"
#include "app/shared/elided_label.h"
#include "app/shared/labels.h"

#include <QBuffer>
#include <QCheckBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <array>
#include <filesystem>

namespace kestrel::app {
namespace {

constexpr const char* blurFacesSetting = "blur_faces";
constexpr const char* paperOfSheets = "paper";

report::Paper paperOf(const desk::Settings& settings) {
    const std::string said = settings.get(paperOfSheets);
    const bool letter = said.empty() ? QLocale().measurementSystem() == QLocale::ImperialUSSystem
                                     : said == "letter";
    return letter ? report::Paper::letter : report::Paper::a4;
}

QByteArray pngOf(const report::ComparisonSheet& sheet) {
    constexpr int width = 1320;
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    report::pictureOf(sheet, width).save(&buffer, "PNG");
    return bytes;
}

} // namespace

ComparisonFiles::ComparisonFiles(desk::OpenClip& open, desk::Comparison& comparison,
                                 desk::FilmIndices& films, desk::Settings& settings,
                                 desk::Problems& problems, QWidget* parent)
    : QWidget(parent),
      open_(open),
      comparison_(comparison),
      films_(films),
      settings_(settings),
      problems_(problems) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    auto* row = new QHBoxLayout;
    const auto button = [&](const QString& words, const char* name, const QString& tip,
                            Format format) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        made->setToolTip(tip);
        made->setFocusPolicy(Qt::NoFocus);
        connect(made, &QPushButton::clicked, this, [this, format] { save(format); });
        row->addWidget(made);
        buttons_.push_back(made);
        return made;
    };
    button(tr("Sheet…"), "saveComparisonPdf",
           tr("Pictures of both at the key positions with what differs, as PDF"), Format::pdf)
        ->setProperty("role", "primary");
    button(tr("Picture…"), "saveComparisonPng", tr("The same as one picture"), Format::png);
    button(tr("Film…"), "saveComparisonFilm",
           tr("Both side by side in step, with stops at the key positions"), Format::film);
    button(tr("CSV…"), "saveComparisonCsv", tr("All readings of both, for a spreadsheet"),
           Format::csv);
    blur_ = new QCheckBox(tr("blur faces"));
    blur_->setObjectName("blurComparison");
    blur_->setFocusPolicy(Qt::NoFocus);
    blur_->setChecked(settings_.get(blurFacesSetting) == "yes");
    connect(blur_, &QCheckBox::clicked, this,
            [this](bool on) { settings_.set(blurFacesSetting, on ? "yes" : "no"); });
    row->addWidget(blur_);
    column->addLayout(row);
    auto* bottom = new QHBoxLayout;
    state_ = new ElidedLabel;
    state_->setObjectName("comparisonState");
    bottom->addWidget(state_, 1);
    progress_ = new QProgressBar;
    progress_->setObjectName("comparisonProgress");
    progress_->setRange(0, 1000);
    bottom->addWidget(progress_);
    cancel_ = new QPushButton(tr("Cancel"));
    cancel_->setObjectName("cancelComparison");
    cancel_->setFocusPolicy(Qt::NoFocus);
    connect(cancel_, &QPushButton::clicked, this, [this] { job_.cancel(); });
    bottom->addWidget(cancel_);
    column->addLayout(bottom);
    end({});
    connect(&comparison_, &desk::Comparison::changed, this, [this] { refresh(); });
}

void ComparisonFiles::refresh() {
    const bool both = open_.hasClip() && comparison_.hasOther();
    for (QPushButton* button : buttons_) {
        button->setEnabled(both && !busy_);
    }
}

void ComparisonFiles::begin(const QString& says) {
    busy_ = true;
    progress_->setValue(0);
    progress_->show();
    cancel_->show();
    state_->setText(says);
    refresh();
}

void ComparisonFiles::end(const QString& says) {
    busy_ = false;
    progress_->hide();
    cancel_->hide();
    state_->setText(says);
    refresh();
}

void ComparisonFiles::save(Format format) {
    // The pose model is nobody; every other rep that stands there is one of the same player.
    if (format != Format::csv &&
        !mayGiveOut(this, open_.player(), tr("What is saved shows the player."))) {
        return;
    }
    struct Kind {
        const char* ending;
        QString filter;
        QStandardPaths::StandardLocation folder;
    };
    const std::array kinds{Kind{"pdf", tr("PDF (*.pdf)"), QStandardPaths::DocumentsLocation},
                           Kind{"png", tr("Picture (*.png)"), QStandardPaths::PicturesLocation},
                           Kind{"mp4", tr("Film (*.mp4)"), QStandardPaths::MoviesLocation},
                           Kind{"csv", tr("Table (*.csv)"), QStandardPaths::DocumentsLocation}};
    const Kind& kind = kinds.at(static_cast<std::size_t>(format));
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the comparison"),
        QStandardPaths::writableLocation(kind.folder) + "/" +
            tr("%1 compared").arg(text(open_.player().name)) + "." + kind.ending,
        kind.filter);
    if (file.isEmpty()) {
        return;
    }
    const report::ComparisonMaterial material =
        comparisonMaterialOf(open_, comparison_, films_, mirrored_, blur_->isChecked());
    report::ReviewFilm film;
    if (format == Format::film) {
        film = comparisonFilmOf(material, open_);
        if (film.script.empty()) {
            end(tr("A film needs two key positions that both reps have."));
            return;
        }
    }
    begin(tr("saving…"));
    job_ = desk::runJob(
        this,
        [material, film, format, paper = paperOf(settings_),
         path = std::filesystem::path(file.toStdString())](const desk::TellShare& tell) {
            if (format == Format::film) {
                const bool whole = report::exportReviewFilm(film, path, tell);
                if (whole && !tell(1.0)) {
                    std::filesystem::remove(path); // broken off at the very end
                }
                return whole;
            }
            if (format == Format::csv) {
                report::saveWhole(path, QByteArray::fromStdString(report::differencesCsv(
                                            material.pack, material.differences)));
                return true;
            }
            const report::ComparisonSheet sheet = report::comparisonSheetOf(material);
            if (format == Format::pdf) {
                report::writeDocumentPdf(sheet.title, sheet.html, sheet.pictures, paper, path);
            } else {
                report::saveWhole(path, pngOf(sheet));
            }
            return true;
        },
        [this, file](bool) {
            end(tr("saved as %1").arg(file));
            emit saved(file);
        },
        [this](const std::exception_ptr& error) {
            end({});
            problems_.tell(error);
        },
        [this](double share) {
            progress_->setValue(static_cast<int>(share * progress_->maximum()));
        },
        [this] { end(tr("broken off; no file is left")); });
}

} // namespace kestrel::app
