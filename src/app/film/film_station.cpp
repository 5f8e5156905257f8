#include "app/film/film_station.h"

#include "app/shared/film_view.h"
#include "app/shared/stage.h"
#include "app/shared/transport.h"
#include "report/palette.h"
#include "technique/reading_text.h"

#include <QComboBox>
#include <QDateEdit>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <array>

namespace kestrel::app {
namespace {

/// Capture rates that cameras have, frames a second.
constexpr std::array usualRates{24.0,  25.0,  30.0,  50.0,  60.0, 100.0,
                                120.0, 200.0, 240.0, 480.0, 960.0};

QString viewHelp(model::View view) {
    switch (view) {
    case model::View::openSide:
        return FilmStation::tr("Square to the line to the target; you see the chest at set-up.");
    case model::View::closedSide:
        return FilmStation::tr("Square to the line to the target; you see the back at set-up.");
    case model::View::front:
        return FilmStation::tr("From the target, the player throws towards the camera.");
    case model::View::rear:
        return FilmStation::tr("From behind, the player throws away from the camera.");
    case model::View::overhead:
        return FilmStation::tr("From above, looking straight down.");
    }
    return {};
}

} // namespace

FilmStation::FilmStation(Session& session, Thumbnails& thumbnails, QWidget* parent)
    : QWidget(parent), session_(session) {
    setObjectName("filmStation");
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 6, 8, 6);
    row->setSpacing(10);
    auto* view = new FilmView(session_, thumbnails);
    stage_ = &view->stage();
    transport_ = &view->transport();
    row->addWidget(view, 1);
    row->addWidget(makeFacts());
    connect(&session_, &Session::clipOpened, this, [this] { refresh(); });
    connect(&session_, &Session::clipClosed, this, [this] { refresh(); });
    connect(&session_, &Session::marksChanged, this, [this] { refresh(); });
    refresh();
}

QWidget* FilmStation::makeFacts() {
    auto* side = new QWidget;
    constexpr int sideWidth = 350;
    side->setFixedWidth(sideWidth);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    title_ = new QLabel;
    title_->setObjectName("clipTitle");
    title_->setProperty("role", "heading");
    title_->setWordWrap(true);
    column->addWidget(title_);
    facts_ = new QLabel;
    facts_->setObjectName("clipFacts");
    facts_->setWordWrap(true);
    column->addWidget(facts_);

    form_ = new QWidget;
    auto* form = new QVBoxLayout(form_);
    form->setContentsMargins(0, 6, 0, 0);
    rateQuestion_ = new QLabel;
    rateQuestion_->setObjectName("rateQuestion");
    rateQuestion_->setWordWrap(true);
    form->addWidget(rateQuestion_);
    rate_ = new QComboBox;
    rate_->setObjectName("captureRate");
    rate_->setAccessibleName(tr("Frames a second the camera took"));
    rate_->setEditable(true);
    rate_->setInsertPolicy(QComboBox::NoInsert);
    for (const double rate : usualRates) {
        rate_->addItem(QString::number(rate), rate);
    }
    form->addWidget(rate_);

    form->addWidget(new QLabel(tr("Where did the camera stand?")));
    view_ = new QComboBox;
    view_->setObjectName("view");
    view_->setAccessibleName(tr("Where the camera stood"));
    view_->addItem(tr("not said yet"), QString());
    for (const model::View view : {model::View::openSide, model::View::closedSide,
                                   model::View::front, model::View::rear, model::View::overhead}) {
        view_->addItem(QString::fromStdString(technique::viewText(view)),
                       QString::fromUtf8(name(view).data()));
    }
    form->addWidget(view_);
    viewHelp_ = new QLabel;
    viewHelp_->setWordWrap(true);
    form->addWidget(viewHelp_);

    auto* small = new QFormLayout;
    variant_ = new QComboBox;
    variant_->setObjectName("variant");
    variant_->setAccessibleName(tr("Start type"));
    small->addRow(tr("Start"), variant_);
    filmed_ = new QDateEdit;
    filmed_->setObjectName("filmed");
    filmed_->setAccessibleName(tr("Day of filming"));
    filmed_->setCalendarPopup(true);
    filmed_->setDisplayFormat("d MMM yyyy");
    small->addRow(tr("Filmed on"), filmed_);
    form->addLayout(small);
    column->addWidget(form_);

    advice_ = new QLabel;
    advice_->setWordWrap(true);
    advice_->setObjectName("filmingAdvice");
    column->addWidget(advice_);
    column->addStretch();
    auto* bringIn = new QPushButton(tr("Bring in a film…"));
    bringIn->setObjectName("bringIn");
    bringIn->setToolTip(
        tr("Copies a film into the library; you can also drop files on the window"));
    connect(bringIn, &QPushButton::clicked, this, &FilmStation::bringIn);
    column->addWidget(bringIn);
    auto* bench = new QPushButton(tr("To the Bench"));
    bench->setObjectName("toBench");
    bench->setProperty("role", "primary");
    connect(bench, &QPushButton::clicked, this, &FilmStation::toBench);
    column->addWidget(bench);

    const auto rateSaid = [this] {
        bool number = false;
        const double rate = rate_->currentText().trimmed().replace(',', '.').toDouble(&number);
        if (filling_ || !session_.hasClip() || !number || rate <= 0.0) {
            return;
        }
        model::Clip clip = session_.clip();
        clip.captureRate = rate;
        session_.setClip(clip, tr("Say the capture rate"));
    };
    connect(rate_, &QComboBox::activated, this, rateSaid);
    connect(rate_->lineEdit(), &QLineEdit::editingFinished, this, rateSaid);
    connect(view_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_ && session_.hasClip()) {
            model::Clip clip = session_.clip();
            clip.view = model::viewFromName(view_->currentData().toString().toStdString());
            session_.setClip(clip, tr("Say the view"));
        }
    });
    connect(variant_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_ && session_.hasClip()) {
            session_.setVariant(variant_->currentData().toString().toStdString());
        }
    });
    connect(filmed_, &QDateEdit::dateChanged, this, [this](QDate day) {
        if (!filling_ && session_.hasClip()) {
            model::Clip clip = session_.clip();
            clip.filmed = day.toString(Qt::ISODate).toStdString();
            session_.setClip(clip, tr("Say the day of filming"));
        }
    });
    return side;
}

QString FilmStation::facts() const {
    const film::FilmIndex& index = session_.index();
    QString text = tr("%1 × %2 pixels · %3 frames · %4 s long\nplays at %5 frames a second · %6")
                       .arg(index.width)
                       .arg(index.height)
                       .arg(index.frameCount())
                       .arg(index.duration().value, 0, 'f', 2)
                       .arg(index.fileRate(), 0, 'f', index.variableRate ? 1 : 2)
                       .arg(QString::fromStdString(index.codec).toUpper());
    if (index.variableRate) {
        text += tr("\nThe time between frames varies; each frame's own time is used.");
    }
    if (index.cutOff) {
        text += tr("\nThe file was cut off; the frames that are there can be used.");
    }
    return text;
}

void FilmStation::refresh() {
    const bool open = session_.hasClip();
    form_->setVisible(open);
    advice_->setVisible(open);
    if (!open) {
        title_->setText(tr("No film open"));
        facts_->setText(tr("Choose a player on the Squad station, then bring in a film here: press "
                           "the button below or drop a file on the window."));
        return;
    }
    filling_ = true;
    title_->setText(QString::fromStdString(session_.player().name + ", " + session_.clip().title));
    facts_->setText(facts());
    const auto& rate = session_.clip().captureRate;
    if (rate) {
        rateQuestion_->setText(tr("The camera took this many frames a second:"));
        rate_->setEditText(QString::number(*rate));
    } else {
        rateQuestion_->setText(
            tr("▲ How many frames a second did the camera take? The file plays at %1, but a "
               "slow-motion recording does too. No time is read until you say.")
                .arg(session_.index().fileRate(), 0, 'f', 0));
        rate_->setEditText(QString());
    }
    view_->setCurrentIndex(session_.clip().view ? view_->findData(QString::fromUtf8(
                                                      name(*session_.clip().view).data()))
                                                : 0);
    viewHelp_->setText(session_.clip().view ? viewHelp(*session_.clip().view)
                                            : tr("▲ Angles are read only once this is said."));
    variant_->clear();
    variant_->addItem(tr("not said"), QString());
    for (const technique::Variant& variant : session_.pack().variants) {
        variant_->addItem(QString::fromStdString(variant.name), QString::fromStdString(variant.id));
    }
    variant_->setCurrentIndex(
        std::max(0, variant_->findData(QString::fromStdString(session_.rep().variant))));
    const QDate day =
        QDate::fromString(QString::fromStdString(session_.clip().filmed), Qt::ISODate);
    filmed_->setDate(day.isValid() ? day : QDate::currentDate());
    QStringList advice;
    for (const std::string& line : session_.pack().filming.advice) {
        advice << "• " + QString::fromStdString(line);
    }
    advice_->setText(tr("For the next filming:\n") + advice.join("\n"));
    filling_ = false;
}

void FilmStation::keyPressEvent(QKeyEvent* event) {
    const int size = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 : 1;
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Comma:
    case Qt::Key_Less:
        transport_->step(-size);
        return;
    case Qt::Key_Right:
    case Qt::Key_Period:
    case Qt::Key_Greater:
        transport_->step(size);
        return;
    case Qt::Key_Space:
        transport_->togglePlay();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace kestrel::app
