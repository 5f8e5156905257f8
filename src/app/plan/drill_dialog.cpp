#include "app/plan/drill_dialog.h"

#include "app/shared/labels.h"
#include "coaching/drill_texts.h"
#include "desk/job.h"
#include "report/pack_page.h"
#include "words/words.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QTextBrowser>
#include <QVBoxLayout>

#include <algorithm>
#include <set>

namespace kestrel::app {
namespace {

// What the first entries of the lists mean.
constexpr int anyPlace = -1;
const QString anyEquipment = QStringLiteral("*");
const QString thisTechnique = QStringLiteral("*");

} // namespace

DrillDialog::DrillDialog(desk::Shelf& shelf, desk::OpenClip& open, QWidget* parent)
    : QDialog(parent), shelf_(shelf), open_(open) {
    setObjectName("drillDialog");
    setWindowTitle(tr("Drills"));
    constexpr QSize usual(980, 640);
    resize(usual);
    auto* column = new QVBoxLayout(this);
    column->addWidget(makeFilters());
    auto* row = new QHBoxLayout;
    list_ = new QListWidget;
    list_->setObjectName("drillList");
    list_->setAccessibleName(tr("Drills that fit"));
    row->addWidget(list_, 2);
    page_ = new QTextBrowser;
    page_->setObjectName("drillPage");
    page_->setAccessibleName(tr("The drill to read"));
    row->addWidget(page_, 3);
    column->addLayout(row, 1);
    auto* bottom = new QHBoxLayout;
    count_ = new QLabel;
    count_->setObjectName("drillCount");
    bottom->addWidget(count_, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    take_ = buttons->addButton(tr("Add the ticked ones"), QDialogButtonBox::AcceptRole);
    take_->setObjectName("takeDrills");
    bottom->addWidget(buttons);
    column->addLayout(bottom);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(list_, &QListWidget::currentItemChanged, this, [this] { showDrill(); });
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString();
        std::erase(ticked_, id);
        if (item->checkState() == Qt::Checked) {
            ticked_.push_back(id);
        }
        take_->setEnabled(!ticked_.empty());
    });
    take_->setEnabled(false);
    search();
}

QWidget* DrillDialog::makeFilters() {
    auto* filters = new QWidget;
    auto* grid = new QGridLayout(filters);
    grid->setContentsMargins(0, 0, 0, 0);
    int at = 0;
    const auto add = [&](const QString& label, QWidget* field, const char* name) {
        field->setObjectName(name);
        field->setAccessibleName(label);
        auto* words = new QLabel(label);
        words->setBuddy(field);
        grid->addWidget(words, 0, at);
        grid->addWidget(field, 1, at);
        ++at;
    };
    words_ = new QLineEdit;
    words_->setClearButtonEnabled(true);
    add(tr("Words"), words_, "drillWords");
    fault_ = new QComboBox;
    fault_->addItem(tr("of all techniques"), QString());
    fault_->addItem(tr("of this technique"), thisTechnique);
    for (const technique::FaultDefinition& fault : open_.pack().faults) {
        fault_->addItem(text(fault.name), text(fault.id));
    }
    fault_->setCurrentIndex(1);
    add(tr("For"), fault_, "drillFault");
    equipment_ = new QComboBox;
    equipment_->addItem(tr("any"), anyEquipment);
    equipment_->addItem(tr("none needed"), QString());
    std::set<std::string> things;
    for (const auto& [id, drill] : shelf_.drills()) {
        things.insert(drill.equipment.begin(), drill.equipment.end());
    }
    for (const std::string& thing : things) {
        equipment_->addItem(words::inWords(coaching::nameOfEquipment(thing)), text(thing));
    }
    add(tr("Equipment"), equipment_, "drillEquipment");
    place_ = new QComboBox;
    place_->addItem(tr("anywhere"), anyPlace);
    for (const coaching::DrillPlace place :
         {coaching::DrillPlace::home, coaching::DrillPlace::aid, coaching::DrillPlace::field}) {
        place_->addItem(words::inWords(coaching::nameOf(place)), static_cast<int>(place));
    }
    add(tr("Place"), place_, "drillPlace");
    minutes_ = new QSpinBox;
    minutes_->setRange(1, 60);
    minutes_->setValue(60);
    minutes_->setSuffix(tr(" min"));
    add(tr("At most"), minutes_, "drillMinutes");
    age_ = new QSpinBox;
    age_->setRange(5, 99);
    constexpr int grown = 18;
    age_->setValue(open_.circumstances().ageYears.value_or(grown));
    add(tr("Dose for age"), age_, "drillAge");
    connect(words_, &QLineEdit::textChanged, this, [this] { search(); });
    for (QComboBox* box : {fault_, equipment_, place_}) {
        connect(box, &QComboBox::currentIndexChanged, this, [this] { search(); });
    }
    connect(minutes_, &QSpinBox::valueChanged, this, [this] { search(); });
    connect(age_, &QSpinBox::valueChanged, this, [this] { search(); });
    grid->setColumnStretch(0, 1);
    return filters;
}

void DrillDialog::search() {
    coaching::DrillSearch wanted;
    wanted.words = words_->text().toStdString();
    const QString fault = fault_->currentData().toString();
    if (fault == thisTechnique) {
        wanted.pack = &open_.pack();
    } else if (!fault.isEmpty()) {
        wanted.fault = technique::findFault(open_.pack(), fault.toStdString());
    }
    if (equipment_->currentData().toString() != anyEquipment) {
        wanted.equipment = equipment_->currentData().toString().toStdString();
    }
    if (place_->currentData().toInt() != anyPlace) {
        wanted.place = static_cast<coaching::DrillPlace>(place_->currentData().toInt());
    }
    wanted.mostMinutes = minutes_->value();
    const auto found = coaching::searchDrills(shelf_.drills(), wanted);
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const coaching::Drill* drill : found) {
        auto* item = new QListWidgetItem(
            tr("%1 · %2 · %3 min")
                .arg(text(drill->name), text(coaching::doseFor(*drill, age_->value())))
                .arg(drill->minutes));
        item->setData(Qt::UserRole, text(drill->id));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(std::find(ticked_.begin(), ticked_.end(), drill->id) != ticked_.end()
                                ? Qt::Checked
                                : Qt::Unchecked);
        list_->addItem(item);
    }
    count_->setText(found.empty()
                        ? tr("No drill fits. Take away a word or widen a choice.")
                        : tr("%1 of %2 drills").arg(found.size()).arg(shelf_.drills().size()));
    list_->setCurrentRow(found.empty() ? -1 : 0);
    showDrill();
}

void DrillDialog::drawPictures(const technique::Pack& pack) {
    const std::string technique = poseTechnique(pack);
    pictures_[technique] = keptPosePictures(technique);
    if (!pictures_[technique].empty()) {
        return;
    }
    desk::runJob(
        this,
        [technique, view = pack.filming.view](const desk::TellShare&) {
            return drawPosePictures(technique, view, [] { return true; });
        },
        [this, technique](PosePictures pictures) {
            pictures_[technique] = std::move(pictures);
            showDrill();
        },
        [](const std::exception_ptr&) {}); // a page without a picture is still a page
}

QImage DrillDialog::pictureOf(const std::string& drillId) {
    std::vector<const technique::Pack*> packs{&open_.pack()};
    for (const technique::Pack& pack : shelf_.packs()) {
        packs.push_back(&pack);
    }
    for (const technique::Pack* pack : packs) {
        const std::string technique = poseTechnique(*pack);
        for (const technique::FaultDefinition& fault : pack->faults) {
            if (technique.empty() || std::find(fault.drills.begin(), fault.drills.end(), drillId) ==
                                         fault.drills.end()) {
                continue;
            }
            if (!pictures_.contains(technique)) {
                drawPictures(*pack);
            }
            const auto picture = pictures_[technique].find(fault.at);
            return picture == pictures_[technique].end() ? QImage() : picture->second;
        }
    }
    return {};
}

void DrillDialog::showDrill() {
    const QListWidgetItem* item = list_->currentItem();
    if (item == nullptr) {
        page_->clear();
        return;
    }
    const std::string id = item->data(Qt::UserRole).toString().toStdString();
    const coaching::Drill& drill = shelf_.drills().at(id);
    QString html;
    page_->clear();
    if (const QImage picture = pictureOf(id); !picture.isNull()) {
        page_->document()->addResource(QTextDocument::ImageResource, QUrl("pose:"), picture);
        html = "<p><img src='pose:'><br><small>" +
               tr("The position that this drill works on, as it looks when it is right") +
               "</small></p>";
    }
    page_->setHtml(html + report::drillsHtml({{id, drill}}));
}

std::vector<std::string> DrillDialog::chosen() const {
    return ticked_;
}

} // namespace kestrel::app
