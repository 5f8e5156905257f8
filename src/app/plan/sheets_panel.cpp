#include "app/plan/sheets_panel.h"

#include "app/plan/sheet_material_of.h"
#include "app/shared/consent.h"
#include "app/shared/labels.h"
#include "app/shared/pose_pictures.h"
#include "desk/job.h"
#include "model/input_error.h"
#include "report/numbered_sheet.h"
#include "report/take_home_files.h"
#include "report/take_home_html.h"
#include "words/day_text.h"

#include <QBuffer>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLocale>
#include <QPushButton>
#include <QSpinBox>
#include <QStandardPaths>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace kestrel::app {
namespace {

constexpr const char* paperSetting = "paper";
constexpr const char* blurSetting = "blur_faces";

} // namespace

SheetsPanel::SheetsPanel(const records::Library& library, desk::Settings& settings,
                         desk::Problems& problems, desk::Shelf& shelf, desk::OpenClip& open,
                         desk::OpenVisit& visit, desk::PlanEdits& planEdits,
                         desk::FilmIndices& films, model::Clock clock, QWidget* parent)
    : QWidget(parent),
      library_(library),
      settings_(settings),
      problems_(problems),
      shelf_(shelf),
      open_(open),
      visit_(visit),
      planEdits_(planEdits),
      films_(films),
      clock_(std::move(clock)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 6, 4, 0);
    column->addWidget(makeTop());
    preview_ = new QTextBrowser;
    preview_->setObjectName("sheet");
    preview_->setAccessibleName(tr("Preview of the sheet"));
    preview_->setOpenLinks(false);
    preview_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(preview_, 1);
    auto* bottom = new QHBoxLayout;
    state_ = new QLabel;
    state_->setObjectName("sheetState");
    state_->setWordWrap(true);
    bottom->addWidget(state_, 1);
    const auto button = [&](const QString& words, const char* name, Format format) {
        auto* b = new QPushButton(words);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, [this, format] { save(format); });
        bottom->addWidget(b);
        return b;
    };
    savePng_ = button(tr("Save as picture…"), "savePng", Format::png);
    saveHtml_ = button(tr("Save as web page…"), "saveHtml", Format::html);
    savePdf_ = button(tr("Save as PDF…"), "savePdf", Format::pdf);
    savePdf_->setProperty("role", "primary");
    column->addLayout(bottom);
    clear();
}

QWidget* SheetsPanel::makeTop() {
    auto* top = new QWidget;
    auto* column = new QVBoxLayout(top);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    kind_ = new QComboBox;
    kind_->setObjectName("sheetKind");
    kind_->setAccessibleName(tr("Which sheet"));
    kind_->addItems({tr("Take-home sheet"), tr("Full report for you"), tr("Numbered pictures")});
    row->addWidget(kind_);
    paper_ = new QComboBox;
    paper_->setObjectName("paper");
    paper_->setAccessibleName(tr("Paper"));
    paper_->addItems({tr("A4"), tr("Letter")});
    const std::string said = settings_.get(paperSetting);
    const bool letterHere =
        QLocale().measurementSystem() == QLocale::ImperialUSSystem; // where Letter is the paper
    paper_->setCurrentIndex(said.empty() ? (letterHere ? 1 : 0) : (said == "letter" ? 1 : 0));
    row->addWidget(paper_);
    blur_ = new QCheckBox(tr("blur the face"));
    blur_->setObjectName("blurFaces");
    blur_->setChecked(settings_.get(blurSetting) == "yes");
    row->addWidget(blur_);
    row->addStretch();
    column->addLayout(row);
    numberedChoices_ = new QWidget;
    auto* numbered = new QHBoxLayout(numberedChoices_);
    numbered->setContentsMargins(0, 0, 0, 0);
    frames_ = new QComboBox;
    frames_->setObjectName("numberedFrames");
    frames_->setAccessibleName(tr("Which frames"));
    frames_->addItems({tr("at the key positions"), tr("evenly over the rep")});
    numbered->addWidget(frames_);
    count_ = new QSpinBox;
    count_->setObjectName("numberedCount");
    count_->setAccessibleName(tr("How many frames"));
    count_->setRange(2, 48);
    count_->setValue(12);
    count_->setSuffix(tr(" frames"));
    count_->setEnabled(false);
    numbered->addWidget(count_);
    constructs_ = new QCheckBox(tr("with the lines of what is off"));
    constructs_->setObjectName("numberedConstructs");
    constructs_->setChecked(true);
    numbered->addWidget(constructs_);
    numbered->addStretch();
    column->addWidget(numberedChoices_);
    connect(kind_, &QComboBox::activated, this, [this] { chosenAnew(); });
    connect(paper_, &QComboBox::activated, this,
            [this](int index) { settings_.set(paperSetting, index == 1 ? "letter" : "a4"); });
    connect(blur_, &QCheckBox::clicked, this, [this](bool on) {
        settings_.set(blurSetting, on ? "yes" : "no");
        emit blurChosen(on);
        chosenAnew();
    });
    connect(frames_, &QComboBox::activated, this, [this](int index) {
        count_->setEnabled(index == 1);
        chosenAnew();
    });
    connect(count_, &QSpinBox::valueChanged, this, [this] { chosenAnew(); });
    connect(constructs_, &QCheckBox::clicked, this, [this] { chosenAnew(); });
    return top;
}

QString SheetsPanel::makingText() {
    return tr("making the sheet…");
}

SheetsPanel::Kind SheetsPanel::kind() const {
    return static_cast<Kind>(kind_->currentIndex());
}

report::Paper SheetsPanel::paper() const {
    return paper_->currentIndex() == 1 ? report::Paper::letter : report::Paper::a4;
}

bool SheetsPanel::blurFaces() const {
    return blur_->isChecked();
}

void SheetsPanel::clear() {
    ++building_;
    made_ = {};
    preview_->clear();
    state_->clear();
    numberedChoices_->hide();
    for (QPushButton* button : {saveHtml_, savePdf_, savePng_}) {
        button->setEnabled(false);
    }
}

void SheetsPanel::chosenAnew() {
    saved_ = {};
    refresh();
}

void SheetsPanel::refresh() {
    if (!open_.hasClip()) {
        clear();
        return;
    }
    numberedChoices_->setVisible(kind() == numbered);
    savePng_->setVisible(kind() == numbered);
    saveHtml_->setVisible(kind() != numbered);
    savePdf_->setVisible(kind() != numbered);
    paper_->setEnabled(kind() != numbered);
    state_->setText(makingText());
    for (QPushButton* button : {saveHtml_, savePdf_, savePng_}) {
        button->setEnabled(false);
    }
    const int number = ++building_;
    desk::runJob(
        this,
        [material =
             sheetMaterialOf(library_, shelf_, films_, open_, visit_, clock_(), blur_->isChecked()),
         kind = kind(), even = frames_->currentIndex() == 1, count = count_->value(),
         constructs = constructs_->isChecked()](const desk::TellShare&) {
            Made made;
            if (kind == takeHome) {
                report::SheetMaterial withPose = material;
                const std::string& focus = material.visit.plan.focusFaultId;
                if (!focus.empty()) {
                    withPose.pose =
                        posePicture(material.pack, technique::findFault(material.pack, focus)->at);
                }
                made.takeHome =
                    std::make_shared<const report::TakeHome>(report::takeHomeOf(withPose));
            } else if (kind == coachReport) {
                made.coachReport =
                    std::make_shared<const report::CoachReport>(report::coachReportOf(material));
            } else {
                report::NumberedSheet sheet;
                sheet.heading = text(material.player.name + ": " + material.pack.name + ", ") +
                                words::dayText(material.shown.clip.filmed);
                sheet.blurFaces = material.blurFaces;
                std::vector<model::Reading> lines;
                for (const model::Reading& reading : material.shown.readings) {
                    if (constructs && (reading.verdict == model::Verdict::outside ||
                                       reading.verdict == model::Verdict::edge)) {
                        lines.push_back(reading);
                    }
                }
                const model::Rep& rep = material.shown.rep;
                made.numbered = report::numberedSheet(
                    sheet,
                    even ? report::framesEvenly(rep, material.circumstances.time, count)
                         : report::framesAtPositions(material.pack, rep),
                    rep.landmarks, lines, material.shown.images);
            }
            return made;
        },
        [this, number](const Made& made) {
            if (number == building_) { // else something changed; the newer one is on its way
                show(made);
            }
        },
        [this, number](const std::exception_ptr& error) {
            if (number == building_) {
                told(error);
            }
        });
}

void SheetsPanel::show(const Made& made) {
    made_ = made;
    preview_->clear();
    QTextDocument& document = *preview_->document();
    if (made_.takeHome) {
        const auto address = [](std::size_t n) { return QStringLiteral("picture:%1").arg(n); };
        std::size_t n = 0;
        for (const report::TakeHomePicture& picture : report::picturesOf(*made_.takeHome)) {
            document.addResource(QTextDocument::ImageResource, QUrl(address(n++)), picture.image);
        }
        preview_->setHtml(report::takeHomeHtml(*made_.takeHome, address));
    } else if (made_.coachReport) {
        for (const auto& [name, image] : made_.coachReport->pictures) {
            document.addResource(QTextDocument::ImageResource, QUrl(name), image);
        }
        preview_->setHtml(made_.coachReport->html);
    } else {
        document.addResource(QTextDocument::ImageResource, QUrl("numbered:"), made_.numbered);
        constexpr int scrollBar = 40;
        preview_->setHtml(QStringLiteral("<img src='numbered:' width='%1'>")
                              .arg(std::max(200, preview_->width() - scrollBar)));
    }
    if (state_->text() == makingText()) { // else it says that one is being saved
        state_->setText(saved_.clip == open_.clip().id ? saved_.text : QString());
    }
    for (QPushButton* button : {saveHtml_, savePdf_, savePng_}) {
        button->setEnabled(true);
    }
}

/// What is given to the player is what the next visit asks about: it does not change by itself
/// when the rep is judged anew.
void SheetsPanel::keepPlan() {
    const model::Plan& plan = visit_.review().plan;
    model::PlanChoice choice = visit_.choice();
    if (!plan.focusFaultId.empty() && choice.focusFaultId != plan.focusFaultId) {
        choice.focusFaultId = plan.focusFaultId;
        choice.drillIds = plan.drillIds;
        planEdits_.setPlanChoice(choice, tr("Give out the plan"));
    }
}

void SheetsPanel::save(Format format) {
    if (!mayGiveOut(this, open_.player(), tr("The sheet shows pictures of the player."))) {
        return;
    }
    static const std::map<Format, std::pair<QString, QString>> formats{
        {Format::html, {"html", tr("Web page (*.html)")}},
        {Format::pdf, {"pdf", tr("PDF (*.pdf)")}},
        {Format::png, {"png", tr("Picture (*.png)")}}};
    const auto& [ending, filter] = formats.at(format);
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the sheet"), folder + "/" + text(open_.player().name) + "." + ending,
        filter);
    if (file.isEmpty()) {
        return;
    }
    const Made made = made_;
    if (made.takeHome) {
        keepPlan();
    }
    state_->setText(tr("saving…"));
    const std::filesystem::path path = file.toStdString();
    desk::runJob(
        this,
        [made, path, format, paper = paper()](const desk::TellShare&) {
            if (format == Format::png) {
                QByteArray bytes;
                QBuffer buffer(&bytes);
                buffer.open(QIODevice::WriteOnly);
                made.numbered.save(&buffer, "PNG");
                report::saveWhole(path, bytes);
            } else if (made.takeHome) {
                format == Format::html ? report::writeHtml(*made.takeHome, path)
                                       : report::writePdf(*made.takeHome, paper, path);
            } else {
                format == Format::html ? report::writeHtml(*made.coachReport, path)
                                       : report::writePdf(*made.coachReport, paper, path);
            }
            return true;
        },
        [this, file, clip = open_.clip().id](bool) {
            saved_ = {clip, tr("saved as %1").arg(file)};
            state_->setText(saved_.text);
            emit saved(file);
        },
        [this](const std::exception_ptr& error) { told(error); });
}

void SheetsPanel::told(const std::exception_ptr& error) {
    state_->clear();
    problems_.tell(error);
}

} // namespace kestrel::app
