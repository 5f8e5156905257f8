#include "app/plan/film_panel.h"

#include "app/plan/film_preview.h"
#include "app/plan/sheet_material_of.h"
#include "app/shared/consent.h"
#include "app/shared/labels.h"
#include "desk/job.h"
#include "film/sound.h"
#include "model/input_error.h"
#include "report/review_proposal.h"
#include "report/take_home.h"
#include "words/day_text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QListWidget>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

namespace kestrel::app {
namespace {

using model::ScriptStep;

struct Speed {
    double value;
    const char* name;
};
constexpr std::array speeds{
    Speed{1.0, QT_TRANSLATE_NOOP("kestrel::app::FilmPanel", "full speed")},
    Speed{0.5, QT_TRANSLATE_NOOP("kestrel::app::FilmPanel", "half speed")},
    Speed{0.25, QT_TRANSLATE_NOOP("kestrel::app::FilmPanel", "quarter speed")},
    Speed{0.125, QT_TRANSLATE_NOOP("kestrel::app::FilmPanel", "eighth speed")}};

} // namespace

FilmPanel::FilmPanel(const records::Library& library, desk::Problems& problems,
                     desk::Judging& judging, desk::OpenClip& open, desk::OpenVisit& visit,
                     desk::RepEdits& repEdits, desk::FilmIndices& films, QWidget* parent)
    : QWidget(parent),
      library_(library),
      problems_(problems),
      judging_(judging),
      open_(open),
      visit_(visit),
      repEdits_(repEdits),
      films_(films) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 6, 4, 0);
    preview_ = new FilmPreview;
    column->addWidget(preview_, 3);
    auto* row = new QHBoxLayout;
    row->addWidget(makeSteps(), 1);
    fields_ = makeFields();
    row->addWidget(fields_, 1);
    column->addLayout(row, 2);
    column->addWidget(makeBottom());
    connect(preview_, &FilmPreview::stepReached, this, [this](int step) {
        const QSignalBlocker quiet(steps_);
        steps_->setCurrentRow(step);
        showStep();
        const std::string& voice = script_.at(static_cast<std::size_t>(step)).voice;
        if (!voice.empty()) {
            problems_.trying(
                [&] { player_.play(film::readSound(library_.voiceFolder() / voice)); });
        }
    });
    connect(preview_, &FilmPreview::stopped, this, [this] {
        play_->setText(tr("Play"));
        player_.stop();
    });
    connect(preview_, &FilmPreview::spotClicked, this, [this](const QPointF& at) {
        if (ring_->isChecked() && this->row() >= 0) {
            change(tr("Put the ring"), [&](ScriptStep& step) {
                step.pointer = model::Point2{at.x(), at.y()};
            });
        }
    });
    constexpr int pauseMs = 600; // typing has paused: keep the caption
    captionTimer_.setSingleShot(true);
    captionTimer_.setInterval(pauseMs);
    connect(&captionTimer_, &QTimer::timeout, this, [this] { keepCaption(); });
}

FilmPanel::~FilmPanel() {
    job_.cancel();
}

QWidget* FilmPanel::makeSteps() {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    steps_ = new QListWidget;
    steps_->setObjectName("filmSteps");
    steps_->setAccessibleName(tr("Steps of the review film"));
    steps_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    steps_->setTextElideMode(Qt::ElideRight);
    column->addWidget(steps_, 1);
    auto* row = new QHBoxLayout;
    const auto add = [&](QToolButton* button, auto action) {
        connect(button, &QToolButton::clicked, this, action);
        row->addWidget(button);
    };
    add(smallButton(tr("Propose"), "proposeFilm", tr("Put the film together from the findings")),
        [this] { propose(); });
    add(smallButton(tr("+ Stop"), "addStop", tr("Stop at the frame looked at on the Bench")),
        [this] { addStop(); });
    add(smallButton(tr("+ Stretch"), "addStretch", tr("Play slowly from this stop to the next")),
        [this] { addStretch(); });
    add(smallButton(QStringLiteral("↑"), "stepUp", tr("Earlier")), [this] { moveStep(-1); });
    add(smallButton(QStringLiteral("↓"), "stepDown", tr("Later")), [this] { moveStep(1); });
    add(smallButton(QStringLiteral("✕"), "removeStep", tr("Take the step away")),
        [this] { removeStep(); });
    row->addStretch();
    column->addLayout(row);
    connect(steps_, &QListWidget::currentRowChanged, this, [this] {
        if (!filling_) {
            finishTyping();
            preview_->stop();
            showStep();
            if (this->row() >= 0) {
                preview_->showStep(static_cast<std::size_t>(this->row()));
            }
        }
    });
    return box;
}

QWidget* FilmPanel::makeFields() {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    int line = 0;
    const auto add = [&](const QString& label, QWidget* field, const char* name) {
        field->setObjectName(name);
        field->setAccessibleName(label);
        auto* words = new QLabel(label);
        words->setBuddy(field);
        grid->addWidget(words, line, 0);
        grid->addWidget(field, line, 1);
        ++line;
        return words;
    };
    caption_ = new QPlainTextEdit;
    caption_->setTabChangesFocus(true);
    caption_->setFixedHeight(4 * fontMetrics().lineSpacing());
    add(tr("Words"), caption_, "stepCaption");
    seconds_ = new QDoubleSpinBox;
    seconds_->setRange(0.5, 60.0);
    seconds_->setSingleStep(0.5);
    seconds_->setDecimals(1);
    seconds_->setSuffix(tr(" s"));
    seconds_->setKeyboardTracking(false);
    secondsLabel_ = add(tr("Hold"), seconds_, "stepSeconds");
    speed_ = new QComboBox;
    for (const Speed& speed : speeds) {
        speed_->addItem(tr(speed.name), speed.value);
    }
    speedLabel_ = add(tr("Play at"), speed_, "stepSpeed");
    measure_ = new QComboBox;
    measure_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    add(tr("Show"), measure_, "stepMeasure");
    beside_ = new QComboBox;
    beside_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    add(tr("Beside"), beside_, "stepBeside");
    ring_ = new QCheckBox(tr("ring: click the picture"));
    add(tr("Point at"), ring_, "stepRing");
    auto* voice = new QWidget;
    auto* voiceRow = new QHBoxLayout(voice);
    voiceRow->setContentsMargins(0, 0, 0, 0);
    record_ = new QPushButton(tr("Record"));
    record_->setObjectName("recordVoice");
    bringVoice_ = new QPushButton(tr("Bring in…"));
    bringVoice_->setObjectName("importVoice");
    noVoice_ = new QPushButton(tr("Take away"));
    noVoice_->setObjectName("removeVoice");
    for (QPushButton* button : {record_, bringVoice_, noVoice_}) {
        voiceRow->addWidget(button);
    }
    add(tr("Voice"), voice, "stepVoice");
    grid->setRowStretch(line, 1);

    listenToFields();
    return box;
}

void FilmPanel::listenToFields() {
    connect(caption_, &QPlainTextEdit::textChanged, this, [this] {
        if (!filling_) {
            captionRow_ = row();
            captionTimer_.start();
        }
    });
    connect(seconds_, &QDoubleSpinBox::valueChanged, this, [this](double seconds) {
        if (!filling_) {
            change(tr("Hold longer or shorter"), [&](ScriptStep& s) { s.seconds = seconds; });
        }
    });
    connect(speed_, &QComboBox::activated, this, [this] {
        change(tr("Change the speed"),
               [&](ScriptStep& s) { s.speed = speed_->currentData().toDouble(); });
    });
    connect(measure_, &QComboBox::activated, this, [this] {
        change(tr("Choose what is drawn"), [&](ScriptStep& s) {
            s.measureId = measure_->currentData().toString().toStdString();
        });
    });
    connect(beside_, &QComboBox::activated, this, [this] {
        change(tr("Choose what stands beside"), [&](ScriptStep& s) {
            s.besideRep = model::RepId(beside_->currentData().toLongLong());
        });
    });
    connect(ring_, &QCheckBox::clicked, this, [this](bool on) {
        if (!on) {
            change(tr("Take the ring away"), [](ScriptStep& s) { s.pointer.reset(); });
        }
    });
    connect(record_, &QPushButton::clicked, this, [this] { toggleRecording(); });
    connect(bringVoice_, &QPushButton::clicked, this, [this] { importVoice(); });
    connect(noVoice_, &QPushButton::clicked, this,
            [this] { change(tr("Take the voice away"), [](ScriptStep& s) { s.voice.clear(); }); });
}

QWidget* FilmPanel::makeBottom() {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    play_ = new QPushButton(tr("Play"));
    play_->setObjectName("playFilm");
    row->addWidget(play_);
    state_ = new QLabel;
    state_->setObjectName("filmState");
    state_->setWordWrap(true);
    row->addWidget(state_, 1);
    progress_ = new QProgressBar;
    progress_->setObjectName("filmProgress");
    progress_->hide();
    row->addWidget(progress_);
    cancel_ = new QPushButton(tr("Cancel"));
    cancel_->setObjectName("cancelFilm");
    cancel_->hide();
    row->addWidget(cancel_);
    export_ = new QPushButton(tr("Save as film…"));
    export_->setObjectName("saveFilm");
    export_->setProperty("role", "primary");
    row->addWidget(export_);
    connect(play_, &QPushButton::clicked, this, [this] {
        if (preview_->isPlaying()) {
            preview_->stop();
        } else {
            play_->setText(tr("Stop"));
            preview_->play();
        }
    });
    connect(export_, &QPushButton::clicked, this, [this] { save(); });
    connect(cancel_, &QPushButton::clicked, this, [this] {
        job_.cancel();
        state_->setText(tr("breaking off…"));
    });
    return box;
}

int FilmPanel::row() const {
    return steps_->currentRow();
}

void FilmPanel::setBlurFaces(bool blur) {
    blur_ = blur;
}

void FilmPanel::refresh() {
    if (captionTimer_.isActive() && shownRep_ == open_.rep().id) {
        return; // what is being typed is kept in a moment, and comes back here
    }
    const bool otherRep = shownRep_ != open_.rep().id;
    shownRep_ = open_.rep().id;
    const model::ReviewScript script = library_.reviewScript(shownRep_);
    if (!otherRep && script == script_ && preview_->isPlaying()) {
        return; // something else changed; the film plays on
    }
    script_ = script;
    if (otherRep) {
        const QSignalBlocker quiet(steps_);
        steps_->setCurrentRow(-1);
        state_->clear();
    }
    showSteps();
    showFilm();
}

QString FilmPanel::titleOf(const ScriptStep& step) const {
    QString title;
    if (step.kind == ScriptStep::Kind::run) {
        const auto* speed = std::find_if(speeds.begin(), speeds.end(), [&](const Speed& s) {
            return std::abs(s.value - step.speed) < 1e-6;
        });
        title = tr("Play at %1")
                    .arg(speed == speeds.end() ? QString::number(step.speed) : tr(speed->name));
    } else {
        const technique::Position* position =
            technique::findPosition(open_.pack(), step.positionId);
        title = position == nullptr ? tr("Stop at frame %1").arg(step.first)
                                    : tr("Stop at %1").arg(text(position->name));
        title += tr(" · %1 s").arg(step.seconds, 0, 'f', 1);
    }
    if (step.besideRep.stored()) {
        title += tr(", side by side");
    }
    if (!step.voice.empty()) {
        title += QStringLiteral(" ♪");
    }
    return step.caption.empty() ? title : title + ": " + text(step.caption);
}

void FilmPanel::showSteps() {
    filling_ = true;
    const int chosen = row();
    // Rows are changed where they stand: this may be called while the list tells of a change.
    while (steps_->count() > static_cast<int>(script_.size())) {
        delete steps_->takeItem(steps_->count() - 1);
    }
    while (steps_->count() < static_cast<int>(script_.size())) {
        steps_->addItem(new QListWidgetItem);
    }
    for (int i = 0; i < steps_->count(); ++i) {
        const ScriptStep& step = script_.at(static_cast<std::size_t>(i));
        steps_->item(i)->setText(QStringLiteral("%1  ").arg(i + 1) + titleOf(step));
        steps_->item(i)->setToolTip(text(step.caption));
    }
    steps_->setCurrentRow(
        script_.empty() ? -1 : std::clamp(chosen, 0, static_cast<int>(script_.size()) - 1));
    filling_ = false;
    showStep();
    if (!exporting_ && script_.empty()) {
        state_->setText(tr("No film yet: press Propose, or add a stop."));
    } else if (!exporting_ && state_->text() == tr("No film yet: press Propose, or add a stop.")) {
        state_->clear();
    }
    play_->setEnabled(!script_.empty());
    export_->setEnabled(!script_.empty() && !exporting_);
}

void FilmPanel::showStep() {
    const int at = row();
    fields_->setEnabled(at >= 0);
    filling_ = true;
    const ScriptStep step = at < 0 ? ScriptStep() : script_.at(static_cast<std::size_t>(at));
    if (!captionTimer_.isActive() && caption_->toPlainText() != text(step.caption)) {
        caption_->setPlainText(text(step.caption));
    }
    const bool stop = step.kind == ScriptStep::Kind::stop;
    seconds_->setValue(step.seconds);
    for (QWidget* widget :
         {static_cast<QWidget*>(seconds_), static_cast<QWidget*>(secondsLabel_)}) {
        widget->setVisible(stop);
    }
    const int speed = speed_->findData(step.speed);
    speed_->setCurrentIndex(speed);
    for (QWidget* widget : {static_cast<QWidget*>(speed_), static_cast<QWidget*>(speedLabel_)}) {
        widget->setVisible(!stop);
    }
    fillMeasures(step);
    fillBeside(step);
    ring_->setChecked(step.pointer.has_value());
    record_->setEnabled(microphone_.has_value());
    record_->setToolTip(microphone_ ? QString()
                                    : tr("This computer has no microphone. A recording made "
                                         "elsewhere can be brought in."));
    noVoice_->setEnabled(!step.voice.empty());
    filling_ = false;
}

void FilmPanel::fillMeasures(const ScriptStep& step) {
    measure_->clear();
    measure_->addItem(tr("nothing drawn"), QString());
    for (const model::Reading& reading : open_.review().readings) {
        const bool drawnHere =
            std::any_of(reading.constructs.begin(), reading.constructs.end(),
                        [&](const model::Construct& c) { return c.frame == step.first; });
        if (drawnHere) {
            measure_->addItem(text(technique::findMeasure(open_.pack(), reading.measureId)->name),
                              text(reading.measureId));
        }
    }
    measure_->setCurrentIndex(std::max(0, measure_->findData(text(step.measureId))));
    measure_->setEnabled(step.kind == ScriptStep::Kind::stop && measure_->count() > 1);
}

void FilmPanel::fillBeside(const ScriptStep& step) {
    beside_->clear();
    beside_->addItem(tr("nothing"), QVariant::fromValue<qint64>(0));
    std::vector<model::VisitKey> visits{visit_.key()};
    if (const auto before = visit_.askBack()) {
        visits.push_back(before->visit);
    }
    for (const model::VisitKey& visit : visits) {
        for (const auto& [clip, rep] : judging_.repsOf(visit)) {
            const bool matches = model::frameOf(rep, step.positionId) ||
                                 report::matchingFrame(open_.rep(), step.first, rep);
            if (rep.id != open_.rep().id && matches) {
                beside_->addItem(tr("%1, %2").arg(text(clip.title), words::dayText(clip.filmed)),
                                 QVariant::fromValue<qint64>(rep.id.value));
            }
        }
    }
    beside_->setCurrentIndex(
        std::max(0, beside_->findData(QVariant::fromValue<qint64>(step.besideRep.value))));
    beside_->setEnabled(beside_->count() > 1);
}

std::shared_ptr<const report::ReviewFilm> FilmPanel::film() const {
    auto film = std::make_shared<report::ReviewFilm>();
    film->script = script_;
    film->time = open_.circumstances().time;
    film->voiceFolder = library_.voiceFolder();
    film->blurFaces = blur_;
    const auto source = [&](const prepare::JudgedRep& judged) {
        report::FilmedRep filmed = filmedRep(films_, judged);
        return report::ReviewSource{std::move(filmed.rep),
                                    std::move(filmed.readings),
                                    std::move(filmed.images),
                                    {},
                                    words::dayText(judged.clip.filmed)};
    };
    film->shown = source(open_.judged());
    film->shown.fitted = report::filmImages(open_.index(), report::reviewWidth);
    for (const ScriptStep& step : script_) {
        if (!step.besideRep.stored() || film->beside.contains(step.besideRep)) {
            continue;
        }
        const auto rep = library_.rep(step.besideRep);
        const auto clip = rep ? library_.clip(rep->clipId) : std::nullopt;
        if (!clip) {
            continue; // that rep was removed: the open one stands alone
        }
        const auto beside = judging_.of(open_.player(), *clip, *rep);
        if (!beside->notJudged) { // likewise without its film
            film->beside.emplace(step.besideRep, source(*beside));
        }
    }
    return film;
}

void FilmPanel::showFilm() {
    preview_->setFilm(script_.empty() ? nullptr : film());
    if (row() >= 0) {
        preview_->showStep(static_cast<std::size_t>(row()));
    }
}

void FilmPanel::change(const QString& what, const std::function<void(ScriptStep&)>& edit) {
    if (row() < 0) {
        return;
    }
    model::ReviewScript changed = script_;
    edit(changed.at(static_cast<std::size_t>(row())));
    repEdits_.setReviewScript(changed, what);
}

void FilmPanel::finishTyping() {
    if (captionTimer_.isActive()) {
        captionTimer_.stop();
        keepCaption();
    }
}

void FilmPanel::keepCaption() {
    if (!open_.hasClip() || captionRow_ < 0 || captionRow_ >= static_cast<int>(script_.size()) ||
        shownRep_ != open_.rep().id) {
        return;
    }
    model::ReviewScript changed = script_;
    changed.at(static_cast<std::size_t>(captionRow_)).caption =
        caption_->toPlainText().trimmed().toStdString();
    repEdits_.setReviewScript(changed, tr("Change the words"));
}

void FilmPanel::propose() {
    if (!script_.empty() &&
        QMessageBox::question(this, tr("A film is there already"),
                              tr("Shall the proposal take the place of these steps? Undo brings "
                                 "them back.")) != QMessageBox::Yes) {
        return;
    }
    report::EarlierRep earlier;
    if (const auto before = repBefore(open_, visit_)) {
        earlier = {before->rep.id, before->clip.filmed};
    }
    const model::ReviewScript script =
        report::proposedScript(open_.pack(), open_.rep(), open_.circumstances().time,
                               open_.review().readings, visit_.review(), visit_.choice(), earlier);
    if (script.empty()) {
        state_->setText(tr("Set the key positions on the Bench first."));
        return;
    }
    repEdits_.setReviewScript(script, tr("Propose the review film"));
}

void FilmPanel::insert(const ScriptStep& step, const QString& what) {
    finishTyping();
    model::ReviewScript changed = script_;
    const int at = row() + 1;
    changed.insert(changed.begin() + at, step);
    repEdits_.setReviewScript(changed, what);
    steps_->setCurrentRow(at);
}

void FilmPanel::addStop() {
    ScriptStep step;
    step.first = open_.frame();
    for (const auto& [position, frame] : model::allPositions(open_.rep())) {
        if (frame == step.first) {
            step.positionId = position;
        }
    }
    insert(step, tr("Add a stop"));
}

void FilmPanel::addStretch() {
    ScriptStep step;
    step.kind = ScriptStep::Kind::run;
    constexpr double slow = 0.25;
    step.speed = slow;
    const int at = row();
    const model::FrameSpan span =
        open_.rep().span.value_or(model::FrameSpan{0, open_.circumstances().time.frameCount() - 1});
    const auto endOf = [](const ScriptStep& s) {
        return s.kind == ScriptStep::Kind::run ? s.last : s.first;
    };
    step.first = at < 0 ? span.first : endOf(script_.at(static_cast<std::size_t>(at)));
    step.last = at + 1 < static_cast<int>(script_.size())
                    ? script_.at(static_cast<std::size_t>(at + 1)).first
                    : span.last;
    step.last = std::max(step.last, step.first);
    insert(step, tr("Add a stretch"));
}

void FilmPanel::removeStep() {
    if (row() < 0) {
        return;
    }
    finishTyping();
    model::ReviewScript changed = script_;
    changed.erase(changed.begin() + row());
    repEdits_.setReviewScript(changed, tr("Take a step away"));
}

void FilmPanel::moveStep(int by) {
    const int to = row() + by;
    if (row() < 0 || to < 0 || to >= static_cast<int>(script_.size())) {
        return;
    }
    finishTyping();
    model::ReviewScript changed = script_;
    std::swap(changed.at(static_cast<std::size_t>(row())),
              changed.at(static_cast<std::size_t>(to)));
    repEdits_.setReviewScript(changed, tr("Move a step"));
    steps_->setCurrentRow(to);
}

void FilmPanel::toggleRecording() {
    if (recording_) {
        record_->setText(tr("Record"));
        keepVoice(std::exchange(recording_, nullptr)->heard());
        return;
    }
    preview_->stop();
    problems_.trying([&] {
        recording_ = (*microphone_)();
        record_->setText(tr("Stop recording"));
    });
}

void FilmPanel::importVoice() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Bring in a voice"), {}, tr("Sound (*)"));
    if (!file.isEmpty()) {
        problems_.trying([&] { keepVoice(film::readSound(file.toStdString())); });
    }
}

void FilmPanel::keepVoice(const std::vector<float>& samples) {
    if (samples.empty() || row() < 0) {
        return;
    }
    problems_.trying([&] {
        const std::filesystem::path folder = library_.voiceFolder();
        std::filesystem::create_directories(folder);
        std::filesystem::permissions(folder, std::filesystem::perms::owner_all);
        // Named by its content: the same sound is kept once, and undo finds it again.
        const QByteArray hash = QCryptographicHash::hash(
            QByteArrayView(reinterpret_cast<const char*>(samples.data()),
                           static_cast<qsizetype>(samples.size() * sizeof(float))),
            QCryptographicHash::Sha256);
        const std::string name = hash.toHex().left(32).toStdString() + ".wav";
        film::writeWav(samples, folder / name);
        const double length = static_cast<double>(samples.size()) / film::soundRate;
        change(tr("Speak to a step"), [&](ScriptStep& step) {
            step.voice = name;
            if (step.kind == ScriptStep::Kind::stop) {
                step.seconds = std::max(step.seconds, length); // it is heard to its end
            }
        });
    });
}

void FilmPanel::save() {
    finishTyping();
    preview_->stop();
    if (!mayGiveOut(this, open_.player(), tr("The film shows the player."))) {
        return;
    }
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::MoviesLocation);
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the review film"), folder + "/" + text(open_.player().name) + ".mp4",
        tr("Film (*.mp4)"));
    if (file.isEmpty()) {
        return;
    }
    progress_->setValue(0);
    progress_->show();
    cancel_->show();
    export_->setEnabled(false);
    state_->setText(tr("writing the film…"));
    exporting_ = true;
    job_ = desk::runJob(
        this,
        [film = film(),
         path = std::filesystem::path(file.toStdString())](const desk::TellShare& tell) {
            const bool whole = report::exportReviewFilm(*film, path, tell);
            if (whole && !tell(1.0)) {
                std::filesystem::remove(path); // broken off at the very end
            }
            return whole;
        },
        [this, file](bool) {
            endExport(tr("saved as %1").arg(file));
            emit saved(file);
        },
        [this](const std::exception_ptr& error) {
            endExport({});
            problems_.tell(error);
        },
        [this](double share) {
            progress_->setValue(static_cast<int>(share * progress_->maximum()));
        },
        [this] { endExport(tr("broken off; no file is left")); });
}

void FilmPanel::endExport(const QString& how) {
    exporting_ = false;
    progress_->hide();
    cancel_->hide();
    export_->setEnabled(!script_.empty());
    state_->setText(how);
}

} // namespace kestrel::app
