#include "app/film/ground_panel.h"

#include "app/film/ground_plan.h"
#include "app/shared/loupe.h"
#include "app/shared/stage.h"
#include "app/shared/text.h"
#include "technique/pack/known_length.h"
#include "words/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace kestrel::app {
namespace {

constexpr double gridCell = 1.0; // metres
/// A mark that lies so far from where the others say it ought to be is worth a second look, pixels.
constexpr double suspicious = 3.0 * model::placedPointSd;

QDoubleSpinBox* metres(const char* name, const QString& what, double value) {
    auto* box = new QDoubleSpinBox;
    box->setObjectName(name);
    box->setAccessibleName(what);
    box->setRange(0.03, 60.0); // from a ball to a court
    box->setDecimals(3);
    box->setSingleStep(0.1);
    box->setSuffix(GroundPanel::tr(" m"));
    box->setValue(value);
    return box;
}

} // namespace

GroundPanel::GroundPanel(desk::OpenClip& open, desk::ClipEdits& clipEdits, Stage& stage,
                         QWidget* parent)
    : QWidget(parent), open_(open), clipEdits_(clipEdits), stage_(stage) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    column->setSpacing(6);
    auto* why =
        new QLabel(tr("Mark something of known size on the ground: then landing, stride and "
                      "the ball are told in metres."));
    why->setWordWrap(true);
    column->addWidget(why);
    place_ = new QComboBox;
    place_->setObjectName("groundPlace");
    place_->setAccessibleName(tr("What is marked on the ground"));
    column->addWidget(place_);
    connect(place_, &QComboBox::activated, this, [this] { choosePlace(); });
    column->addWidget(makeSizes());

    auto* row = new QHBoxLayout;
    plan_ = new GroundPlan;
    row->addWidget(plan_, 1);
    loupe_ = new Loupe(open_);
    row->addWidget(loupe_);
    column->addLayout(row);
    connect(plan_, &GroundPlan::chosen, this, [this](const QString& point) {
        wanted_ = point.toStdString();
        refresh();
    });
    asked_ = new QLabel;
    asked_->setObjectName("groundAsked");
    asked_->setProperty("role", "heading");
    asked_->setWordWrap(true);
    column->addWidget(asked_);
    auto* buttons = new QHBoxLayout;
    skip_ = new QPushButton(tr("Not to be seen"));
    skip_->setObjectName("groundSkip");
    skip_->setToolTip(tr("Goes on to the next point; four are enough"));
    connect(skip_, &QPushButton::clicked, this, [this] { skip(); });
    buttons->addWidget(skip_);
    clear_ = new QPushButton(tr("Mark anew"));
    clear_->setObjectName("groundClear");
    connect(clear_, &QPushButton::clicked, this, [this] {
        passedOver_.clear();
        wanted_.clear();
        ends_.clear();
        if (open_.clip().ground) {
            model::GroundMarks marks = *open_.clip().ground;
            marks.points.clear();
            marks.straightEdges.clear();
            edge_->setChecked(false);
            clipEdits_.setGround(marks, tr("Mark the ground anew"));
        }
    });
    buttons->addWidget(clear_);
    column->addLayout(buttons);

    addResults(*column);
    column->addStretch();

    listen();
}

void GroundPanel::addResults(QVBoxLayout& column) {
    edge_ = new QPushButton(tr("Mark a straight edge for the lens"));
    edge_->setObjectName("groundEdge");
    edge_->setCheckable(true);
    edge_->setToolTip(
        tr("A fence, a wall or a court line, far from the picture's middle: where the "
           "picture bends it, the lens does. Click it in three places or more"));
    connect(edge_, &QPushButton::toggled, this, [this] {
        edgeBegun_ = false;
        if (edge_->isChecked()) {
            measure_->setChecked(false);
        }
        refresh();
    });
    column.addWidget(edge_);

    result_ = new QLabel;
    result_->setObjectName("groundResult");
    result_->setWordWrap(true);
    column.addWidget(result_);
    grid_ = new QCheckBox(tr("show a grid of one metre and the horizon"));
    grid_->setObjectName("groundGrid");
    grid_->setChecked(true);
    connect(grid_, &QCheckBox::toggled, this, [this] { refreshStage(); });
    column.addWidget(grid_);
    measure_ = new QPushButton(tr("Measure over the ground"));
    measure_->setObjectName("groundMeasure");
    measure_->setCheckable(true);
    measure_->setToolTip(tr("Then click two spots on the ground"));
    connect(measure_, &QPushButton::toggled, this, [this] {
        ends_.clear();
        if (measure_->isChecked()) {
            edge_->setChecked(false);
        }
        refresh();
    });
    column.addWidget(measure_);
    measured_ = new QLabel;
    measured_->setObjectName("groundMeasured");
    measured_->setWordWrap(true);
    column.addWidget(measured_);
}

void GroundPanel::listen() {
    connect(&stage_, &Stage::clicked, this, [this](QPointF at) {
        if (marking_) {
            clicked(at);
        }
    });
    connect(&stage_, &Stage::pointed, this, [this](QPointF at) {
        if (marking_) {
            loupe_->lookAt(at);
        }
    });
    connect(&open_, &desk::OpenClip::opened, this, [this] {
        passedOver_.clear();
        wanted_.clear();
        ends_.clear();
        measure_->setChecked(false);
        edge_->setChecked(false);
        refresh();
    });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] { refreshStage(); });
}

QWidget* GroundPanel::makeSizes() {
    sizes_ = new QWidget;
    sizeRows_ = new QFormLayout(sizes_);
    sizeRows_->setContentsMargins(0, 0, 0, 0);
    along_ = metres("groundAlong", tr("Side towards the target"), 2.0);
    across_ = metres("groundAcross", tr("Side across"), 1.0);
    sizeRows_->addRow(tr("towards the target"), along_);
    sizeRows_->addRow(tr("across"), across_);
    for (QDoubleSpinBox* box : {along_, across_}) {
        connect(box, &QDoubleSpinBox::editingFinished, this, [this] { saySizes(); });
    }
    return sizes_;
}

void GroundPanel::setMarking(bool marking) {
    marking_ = marking;
    stage_.setReportingClicks(marking);
    refreshStage();
}

std::optional<technique::GroundPlace> GroundPanel::place() const {
    const auto& ground = open_.clip().ground;
    if (isLength()) {
        return technique::lengthPlace();
    }
    return ground ? technique::placeOf(open_.pack(), *ground) : std::nullopt;
}

bool GroundPanel::isLength() const {
    const auto& ground = open_.clip().ground;
    return ground && ground->placeId == technique::knownLength;
}

QString GroundPanel::lengthText() const {
    const auto& scale = open_.circumstances().scale;
    if (!scale) {
        constexpr std::size_t ends = 2;
        return open_.clip().ground->points.size() < ends
                   ? QString()
                   : tr("▲ The two ends are too close to each other to tell a scale.");
    }
    constexpr double pixels = 100.0;
    QString said =
        tr("At the player %1 pixels are %2 ± %3 m.")
            .arg(pixels)
            .arg(pixels * scale->metresPerPx, 0, 'f', 3)
            .arg(model::coverage95 * pixels * scale->metresPerPx * scale->relativeSd, 0, 'f', 3);
    if (const auto height =
            technique::bodyHeight(open_.pack(), open_.rep(), open_.circumstances().hand)) {
        const double metres = height->value * scale->metresPerPx;
        const double sd = metres * std::hypot(scale->relativeSd, height->sd / height->value);
        said += tr("\nBy that the player is about %1 ± %2 m tall.")
                    .arg(metres, 0, 'f', 2)
                    .arg(model::coverage95 * sd, 0, 'f', 2);
    }
    return said;
}

std::string GroundPanel::nextPoint() const {
    const auto known = place();
    if (!known) {
        return {};
    }
    if (!wanted_.empty()) {
        return wanted_;
    }
    for (const technique::GroundPoint& point : known->points) {
        const bool passed =
            std::find(passedOver_.begin(), passedOver_.end(), point.id) != passedOver_.end();
        if (!passed && !open_.clip().ground->points.contains(point.id)) {
            return point.id;
        }
    }
    return {};
}

void GroundPanel::choosePlace() {
    if (filling_ || !open_.hasClip()) {
        return;
    }
    passedOver_.clear();
    wanted_.clear();
    ends_.clear();
    const std::string id = place_->currentData().toString().toStdString();
    if (id.empty()) {
        clipEdits_.setGround(std::nullopt, tr("Leave the ground unmarked"));
        return;
    }
    model::GroundMarks marks;
    marks.placeId = id;
    marks.frame = open_.frame();
    if (id == technique::ownRectangle || id == technique::knownLength) {
        marks.alongM = model::Metres(along_->value());
        marks.acrossM = model::Metres(across_->value());
    }
    clipEdits_.setGround(marks, tr("Choose what is marked on the ground"));
}

void GroundPanel::saySizes() {
    if (filling_ || !open_.hasClip() || !open_.clip().ground) {
        return;
    }
    model::GroundMarks marks = *open_.clip().ground;
    marks.alongM = model::Metres(along_->value());
    marks.acrossM = model::Metres(across_->value());
    clipEdits_.setGround(marks, tr("Say the rectangle's size"));
}

model::Point2 GroundPanel::toGroundPicture(model::Point2 px) const {
    const auto& camera = open_.circumstances().camera;
    const auto at = static_cast<std::size_t>(open_.frame());
    return at < camera.size() ? carriedToFirst(camera[at], px) : px;
}

model::Point2 GroundPanel::fromGroundPicture(model::Point2 px) const {
    const auto& camera = open_.circumstances().camera;
    const auto at = static_cast<std::size_t>(open_.frame());
    return at < camera.size() ? carriedFromFirst(camera[at], px) : px;
}

model::Point2 GroundPanel::toMarksPicture(model::Point2 px) const {
    const auto& camera = open_.circumstances().camera;
    const model::Point2 there = toGroundPicture(px);
    const auto at = static_cast<std::size_t>(open_.clip().ground->frame);
    return at < camera.size() ? carriedFromFirst(camera[at], there) : there;
}

model::Point2 GroundPanel::fromMarksPicture(model::Point2 px) const {
    const auto& camera = open_.circumstances().camera;
    const auto at = static_cast<std::size_t>(open_.clip().ground->frame);
    return fromGroundPicture(at < camera.size() ? carriedToFirst(camera[at], px) : px);
}

void GroundPanel::clickedOnEdge(model::Point2 px) {
    model::GroundMarks marks = *open_.clip().ground;
    if (!edgeBegun_ || marks.straightEdges.empty()) {
        marks.straightEdges.emplace_back();
        edgeBegun_ = true;
    }
    const bool first = marks.points.empty() && marks.straightEdges.size() == 1 &&
                       marks.straightEdges.front().empty();
    if (first) {
        marks.frame = open_.frame();
    }
    marks.straightEdges.back().push_back(first ? px : toMarksPicture(px));
    clipEdits_.setGround(marks, tr("Mark a straight edge"));
}

void GroundPanel::clicked(QPointF picture) {
    const model::Point2 px{picture.x(), picture.y()};
    if (edge_->isChecked()) {
        clickedOnEdge(px);
        return;
    }
    if (measure_->isChecked()) {
        if (ends_.size() >= 2) {
            ends_.clear();
        }
        ends_.push_back(toGroundPicture(px));
        refresh();
        return;
    }
    const std::string id = nextPoint();
    if (id.empty()) {
        return;
    }
    model::GroundMarks marks = *open_.clip().ground;
    const bool first = marks.points.empty() && marks.straightEdges.empty();
    if (first) {
        marks.frame = open_.frame();
    }
    // Marked in another frame than the first mark: carried there when the camera is followed.
    marks.points[id] = first ? px : toMarksPicture(px);
    wanted_.clear();
    const auto known = place();
    const auto point = std::find_if(known->points.begin(), known->points.end(),
                                    [&](const auto& p) { return p.id == id; });
    clipEdits_.setGround(marks, tr("Mark the %1").arg(words::inWords(point->name)));
}

void GroundPanel::skip() {
    passedOver_.push_back(nextPoint());
    wanted_.clear();
    refresh();
}

QString GroundPanel::resultText() const {
    const auto& c = open_.circumstances();
    if (isLength()) {
        return lengthText();
    }
    const std::size_t marked = open_.clip().ground->points.size();
    if (!c.ground) {
        constexpr std::size_t needed = 4;
        return marked < needed ? tr("%1 of at least 4 points marked.").arg(marked)
                               : "▲ " + words::inWords(c.groundReason);
    }
    const motion::GroundFit& fit = c.ground->fit;
    constexpr Eigen::Index upwards = 5; // of motion::CameraChange
    const double heightSd = fit.spread.row(upwards).norm();
    QString said = tr("The marks fit within %1 pixels. The camera stood %2 ± %3 m above the "
                      "ground, held level to %4°.")
                       .arg(fit.residualPx, 0, 'f', 1)
                       .arg(fit.camera.position.z(), 0, 'f', 1)
                       .arg(std::max(0.1, model::coverage95 * heightSd), 0, 'f', 1)
                       .arg(std::abs(fit.camera.roll().value), 0, 'f', 1);
    if (const auto doubt = technique::doubtOfAMetre(*c.ground, *open_.clip().ground)) {
        constexpr double cm = 100.0;
        said += tr("\nA metre there is told to ± %1 cm towards the target and to ± %2 cm across.")
                    .arg(std::ceil(cm * model::coverage95 * doubt->alongSd))
                    .arg(std::ceil(cm * model::coverage95 * doubt->acrossSd));
    }
    if (!open_.clip().ground->straightEdges.empty()) {
        // How far the lens moves a point at the picture's corner, in pixels.
        const model::Point2 corner{0.0, 0.0};
        const auto bends = [&](double distortion) {
            motion::GroundCamera camera = fit.camera;
            camera.distortion = distortion;
            return model::length(camera.straightened(corner) - corner);
        };
        constexpr Eigen::Index lens = 7; // of motion::CameraChange
        const double sd = fit.spread.row(lens).norm();
        const double most = bends(fit.camera.distortion + sd) - bends(fit.camera.distortion - sd);
        const auto edges = static_cast<int>(open_.clip().ground->straightEdges.size());
        said += '\n' +
                tr("%n straight edge(s): the lens moves the picture's corners by %1 ± %2 pixels.",
                   nullptr, edges)
                    .arg(bends(fit.camera.distortion), 0, 'f', 0)
                    .arg(std::max(1.0, model::coverage95 * 0.5 * std::abs(most)), 0, 'f', 0);
    }
    std::size_t number = 0;
    for (const technique::GroundPoint& point : c.ground->place.points) {
        if (!open_.clip().ground->points.contains(point.id)) {
            continue;
        }
        if (model::length(fit.residuals[number]) > suspicious) {
            said += tr("\n◆ Look again at the %1: it lies %2 pixels off.")
                        .arg(words::inWords(point.name))
                        .arg(model::length(fit.residuals[number]), 0, 'f', 0);
        }
        ++number;
    }
    return said;
}

void GroundPanel::refresh() {
    if (!open_.hasClip()) {
        return;
    }
    filling_ = true;
    place_->clear();
    place_->addItem(tr("nothing marked"), QString());
    for (const technique::GroundPlace& known : open_.pack().places) {
        place_->addItem(words::inWords(known.name), text(known.id));
    }
    place_->addItem(tr("Own rectangle: four cones"), text(std::string(technique::ownRectangle)));
    place_->addItem(tr("Known length at the player: bat, racket, stick, ball"),
                    text(std::string(technique::knownLength)));
    const auto& ground = open_.clip().ground;
    place_->setCurrentIndex(ground ? std::max(0, place_->findData(text(ground->placeId))) : 0);
    const bool own = ground && ground->placeId == technique::ownRectangle;
    sizes_->setVisible(own || isLength());
    sizeRows_->setRowVisible(across_, own);
    if (auto* label = qobject_cast<QLabel*>(sizeRows_->labelForField(along_))) {
        label->setText(own ? tr("towards the target") : tr("length"));
    }
    if (own || isLength()) {
        along_->setValue(ground->alongM.value);
        across_->setValue(ground->acrossM.value);
    }
    filling_ = false;
    const auto known = place();
    for (QWidget* w : std::initializer_list<QWidget*>{plan_, loupe_, asked_, skip_, clear_, edge_,
                                                      result_, grid_, measure_, measured_}) {
        w->setVisible(known.has_value());
    }
    for (QWidget* w :
         std::initializer_list<QWidget*>{plan_, skip_, edge_, grid_, measure_, measured_}) {
        w->setVisible(known.has_value() && !isLength()); // they are about the ground
    }
    if (known) {
        showMarks(*known);
    }
    refreshStage();
}

void GroundPanel::showMarks(const technique::GroundPlace& known) {
    const model::GroundMarks& marks = *open_.clip().ground;
    const bool found = open_.circumstances().ground.has_value();
    std::set<std::string> marked;
    for (const auto& [id, px] : marks.points) {
        marked.insert(id);
    }
    const std::string next = nextPoint();
    plan_->show(known, marked, next);
    const auto point = std::find_if(known.points.begin(), known.points.end(),
                                    [&](const auto& p) { return p.id == next; });
    if (edge_->isChecked()) {
        asked_->setText(
            edgeBegun_ ? tr("Click along the same edge, then press the button again.")
                       : tr("Click along an edge that is straight on the field, in five places "
                            "or so over its whole length."));
    } else if (measure_->isChecked()) {
        asked_->setText(ends_.size() == 1 ? tr("Click the other spot on the ground.")
                                          : tr("Click two spots on the ground."));
    } else if (point == known.points.end()) {
        asked_->setText(isLength() ? tr("Both ends are marked. Mark anew to change them.")
                                   : tr("All points are marked or passed over. Press one on "
                                        "the plan to mark it anew."));
    } else {
        asked_->setText(tr("Click %1, the %2.")
                            .arg(std::distance(known.points.begin(), point) + 1)
                            .arg(words::inWords(point->name)));
    }
    skip_->setEnabled(point != known.points.end() && !measure_->isChecked() && !edge_->isChecked());
    clear_->setEnabled(!marked.empty() || !marks.straightEdges.empty());
    result_->setText(resultText());
    grid_->setEnabled(found);
    measure_->setEnabled(found);
    if (!found && measure_->isChecked()) {
        measure_->setChecked(false);
    }
    measured_->clear();
    if (found && ends_.size() == 2) {
        const auto length =
            technique::lengthOnGround(*open_.circumstances().ground, ends_[0], ends_[1]);
        measured_->setText(length
                               ? tr("%1 ± %2 m over the ground")
                                     .arg(length->metres, 0, 'f', 2)
                                     .arg(std::max(0.01, model::coverage95 * length->sd), 0, 'f', 2)
                               : tr("One of the two spots is not on the ground."));
    }
}

void GroundPanel::refreshStage() {
    if (!open_.hasClip() || !marking_) {
        stage_.setGuides({});
        return;
    }
    Stage::Guides guides;
    const auto& c = open_.circumstances();
    if (c.ground && grid_->isChecked()) {
        guides.grid = technique::groundGrid(*c.ground, model::Metres(gridCell), open_.index().width,
                                            open_.index().height);
        guides.horizon =
            technique::groundHorizon(*c.ground, open_.index().width, open_.index().height);
        for (technique::SeenLine& line : guides.grid) {
            for (model::Point2& p : line) {
                p = fromGroundPicture(p);
            }
        }
        for (model::Point2& p : guides.horizon) {
            p = fromGroundPicture(p);
        }
    }
    const auto known = place();
    if (known) {
        const model::GroundMarks& marks = *open_.clip().ground;
        int number = 0;
        for (const technique::GroundPoint& point : known->points) {
            ++number;
            const auto mark = marks.points.find(point.id);
            if (mark == marks.points.end()) {
                continue;
            }
            model::Construct drawn;
            drawn.labelAt = fromMarksPicture(mark->second);
            drawn.shapes.emplace_back(model::Dot{drawn.labelAt});
            drawn.label = model::asItIs(std::to_string(number));
            guides.marks.push_back(std::move(drawn));
        }
        for (const auto& edge : marks.straightEdges) {
            model::Construct drawn;
            for (std::size_t i = 0; i < edge.size(); ++i) {
                drawn.shapes.emplace_back(model::Dot{fromMarksPicture(edge[i])});
                if (i > 0) {
                    drawn.shapes.emplace_back(model::Segment{fromMarksPicture(edge[i - 1]),
                                                             fromMarksPicture(edge[i]),
                                                             model::Role::reference});
                }
            }
            guides.marks.push_back(std::move(drawn));
        }
    }
    if (!ends_.empty()) {
        model::Construct drawn;
        for (const model::Point2& end : ends_) {
            drawn.shapes.emplace_back(model::Dot{fromGroundPicture(end)});
        }
        if (ends_.size() == 2) {
            drawn.shapes.emplace_back(
                model::Gap{fromGroundPicture(ends_[0]), fromGroundPicture(ends_[1])});
            drawn.labelAt = fromGroundPicture((ends_[0] + ends_[1]) * 0.5);
            if (measured_->text().contains("±")) {
                drawn.label =
                    model::asItIs(measured_->text().section(" m", 0, 0).toStdString() + " m");
            }
        }
        guides.marks.push_back(std::move(drawn));
    }
    stage_.setGuides(std::move(guides));
}

} // namespace kestrel::app
