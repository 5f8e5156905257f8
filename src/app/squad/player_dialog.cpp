#include "app/squad/player_dialog.h"

#include "app/shared/text.h"
#include "words/day_text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace kestrel::app {
namespace {

QDateEdit* dateEdit(const char* name, model::Day day, QDate otherwise) {
    auto* edit = new QDateEdit;
    edit->setObjectName(name);
    edit->setCalendarPopup(true);
    edit->setDisplayFormat("d MMM yyyy");
    const QDate date = words::dateOf(day);
    edit->setDate(date.isValid() ? date : otherwise);
    return edit;
}

} // namespace

PlayerDialog::PlayerDialog(const model::Player& player, model::Day today, QWidget* parent)
    : QDialog(parent), player_(player) {
    setWindowTitle(!player.id.stored() ? tr("New player") : tr("Player"));
    auto* form = new QFormLayout(this);
    name_ = new QLineEdit(text(player.name));
    name_->setObjectName("playerName");
    name_->setAccessibleName(tr("Name"));
    form->addRow(tr("Name"), name_);

    auto* bornRow = new QHBoxLayout;
    bornKnown_ = new QCheckBox;
    bornKnown_->setObjectName("bornKnown");
    bornKnown_->setAccessibleName(tr("Date of birth is known"));
    bornKnown_->setChecked(!player.born.empty());
    constexpr int usualAge = 11;
    const QDate now = words::dateOf(today);
    born_ = dateEdit("born", player.born, now.addYears(-usualAge));
    born_->setAccessibleName(tr("Born on"));
    born_->setEnabled(bornKnown_->isChecked());
    connect(bornKnown_, &QCheckBox::toggled, born_, &QWidget::setEnabled);
    bornRow->addWidget(bornKnown_);
    bornRow->addWidget(born_, 1);
    form->addRow(tr("Born on"), bornRow);

    hand_ = new QComboBox;
    hand_->setObjectName("hand");
    hand_->setAccessibleName(tr("Plays with"));
    hand_->addItem(tr("right hand"), "right");
    hand_->addItem(tr("left hand"), "left");
    hand_->setCurrentIndex(player.hand == model::Hand::right ? 0 : 1);
    hand_->setToolTip(
        tr("The hand that throws, serves or shoots; for bat and stick the hand or side "
           "the player hits from: the rear hand at set-up"));
    form->addRow(tr("Plays with"), hand_);

    height_ = new QDoubleSpinBox;
    height_->setObjectName("height");
    height_->setAccessibleName(tr("Standing height in metres"));
    height_->setRange(0.0, 2.5);
    height_->setDecimals(2);
    height_->setSingleStep(0.01);
    height_->setSuffix(tr(" m"));
    height_->setSpecialValueText(tr("not measured"));
    height_->setValue(player.height ? player.height->value : 0.0);
    height_->setToolTip(
        tr("Standing, without shoes. Heights are kept with the day you enter them: two "
           "of them, months apart, tell how fast the player grows"));
    form->addRow(tr("Height"), height_);

    sex_ = new QComboBox;
    sex_->setObjectName("growsAs");
    sex_->setAccessibleName(tr("Growth estimate"));
    sex_->addItem(tr("none"), QString());
    sex_->addItem(tr("by the formula for girls"), "girl");
    sex_->addItem(tr("by the formula for boys"), "boy");
    if (player.sex) {
        sex_->setCurrentIndex(*player.sex == model::Sex::girl ? 1 : 2);
    }
    sex_->setToolTip(tr("When the growth spurt is to be expected, from age and height. For your "
                        "information only: no range changes by it"));
    form->addRow(tr("Growth estimate"), sex_);

    auto* consentRow = new QHBoxLayout;
    consent_ = new QCheckBox(tr("given on"));
    consent_->setObjectName("consent");
    consent_->setAccessibleName(tr("Consent to film was given"));
    consent_->setChecked(!player.consentGiven.empty());
    consentDay_ = dateEdit("consentDay", player.consentGiven, now);
    consentDay_->setAccessibleName(tr("Day of consent"));
    consentDay_->setEnabled(consent_->isChecked());
    connect(consent_, &QCheckBox::toggled, consentDay_, &QWidget::setEnabled);
    consentRow->addWidget(consent_);
    consentRow->addWidget(consentDay_, 1);
    form->addRow(tr("Consent to film"), consentRow);

    auto* buttons = new QDialogButtonBox;
    keep_ = buttons->addButton(tr("Keep"), QDialogButtonBox::AcceptRole);
    keep_->setObjectName("keepPlayer");
    buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    form->addRow(buttons);
    const auto check = [this] { keep_->setEnabled(!name_->text().trimmed().isEmpty()); };
    connect(name_, &QLineEdit::textChanged, this, check);
    check();
}

model::Player PlayerDialog::player() const {
    model::Player player = player_;
    player.name = name_->text().trimmed().toStdString();
    player.born = bornKnown_->isChecked() ? words::dayOf(born_->date()) : model::Day();
    player.hand = *model::handFromName(hand_->currentData().toString().toStdString());
    player.height =
        height_->value() > 0.0 ? std::optional(model::Metres(height_->value())) : std::nullopt;
    player.consentGiven = consent_->isChecked() ? words::dayOf(consentDay_->date()) : model::Day();
    player.sex = model::sexFromName(sex_->currentData().toString().toStdString());
    return player;
}

} // namespace kestrel::app
