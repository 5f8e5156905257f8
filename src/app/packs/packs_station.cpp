#include "app/packs/packs_station.h"

#include "app/packs/document_editor.h"
#include "app/packs/pack_reader.h"
#include "app/shared/text.h"
#include "app/shared/verdict_text.h"
#include "desk/editions.h"
#include "model/input_error.h"
#include "motion/centre_of_mass.h"
#include "report/document_pdf.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/json_file.h"
#include "words/measured.h"
#include "words/words.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTabWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

using technique::Document;
using technique::Pointer;

/// Stands in the list for the coach's drills; no pack's id begins so.
constexpr const char* ownDrills = "*drills";
/// Likewise for the load rule.
constexpr const char* loadRule = "*load_rule";

/// "Float serve" → "float_serve".
std::string idFrom(const QString& name) {
    std::string id;
    for (const QChar c : name.toLower().normalized(QString::NormalizationForm_D)) {
        if (c >= 'a' && c <= 'z') {
            id += c.toLatin1();
        } else if (c >= '0' && c <= '9' && !id.empty()) {
            id += c.toLatin1();
        } else if (!id.empty() && id.back() != '_' && !c.isMark()) {
            id += '_';
        }
    }
    while (!id.empty() && id.back() == '_') {
        id.pop_back();
    }
    return id;
}

} // namespace

PacksStation::PacksStation(desk::Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("packsStation");
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(10, 8, 10, 8);
    row->setSpacing(10);
    auto* left = new QVBoxLayout;
    auto* heading = new QLabel(tr("Techniques"));
    heading->setProperty("role", "heading");
    left->addWidget(heading);
    list_ = new QListWidget;
    list_->setObjectName("packs");
    list_->setAccessibleName(tr("Techniques"));
    constexpr int listWidth = 250;
    list_->setFixedWidth(listWidth);
    left->addWidget(list_, 1);
    const auto button = [&](const char* name, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(name);
        b->setToolTip(tip);
        left->addWidget(b);
        return b;
    };
    copy_ = button("copyPack", tr("Copy as my own…"),
                   tr("Makes a technique of your own that starts as this one is"));
    auto* import = button("importPack", tr("Import…"), tr("Takes a pack file over"));
    auto* exportButton = button("exportPack", tr("Export…"), tr("Writes this pack to a file"));
    shipped_ = button("backToShipped", tr("Back to shipped"), QString());
    row->addLayout(left);

    addPages(*row);
    listen();
    connect(copy_, &QPushButton::clicked, this, [this] {
        const QString name = QInputDialog::getText(
            this, tr("A technique of your own"), tr("What do you call it?"), QLineEdit::Normal,
            tr("My %1").arg(text(chosenPack()->name).toLower()));
        if (!name.isEmpty()) {
            copyAs(name);
        }
    });
    connect(import, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("Import a pack"), QString(),
                                                          tr("Packs (*.json)"));
        if (!file.isEmpty()) {
            importFrom(file.toStdString());
        }
    });
    connect(exportButton, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getSaveFileName(this, tr("Export"), fileName(),
                                                          tr("Packs and drills (*.json)"));
        if (!file.isEmpty()) {
            exportTo(file.toStdString());
        }
    });
    connect(shipped_, &QPushButton::clicked, this, &PacksStation::backToShipped);
    connect(&desk_.shelf, &desk::Shelf::changed, this, [this] {
        draft_.reset();
        listPacks();
    });
    connect(&desk_.open, &desk::OpenClip::marksChanged, this, [this] {
        if (isVisible()) {
            showLive();
        }
    });
    listPacks();
}

void PacksStation::addPages(QHBoxLayout& row) {
    auto* right = new QVBoxLayout;
    pages_ = new QTabWidget;
    pages_->setObjectName("packPages");
    pages_->setDocumentMode(true);
    reader_ = new PackReader(desk_.shelf);
    pages_->insertTab(read, reader_, tr("Read"));
    auto* changing = new QWidget;
    auto* column = new QVBoxLayout(changing);
    column->setContentsMargins(0, 6, 0, 0);
    editor_ = new DocumentEditor;
    editor_->setFirst({"positions", "measures", "observations", "faults", "cautions", "schools",
                       "sequence", "variants", "shots", "filming"});
    editor_->setSuggestions([this](const Pointer& field) { return suggestions(field); });
    column->addWidget(editor_, 1);
    live_ = new QLabel;
    live_->setObjectName("liveCheck");
    live_->setWordWrap(true);
    column->addWidget(live_);
    problem_ = new QLabel;
    problem_->setObjectName("packProblem");
    problem_->setWordWrap(true);
    drop_ = new QPushButton(tr("Drop the change"));
    drop_->setObjectName("dropChange");
    auto* bad = new QHBoxLayout;
    bad->addWidget(problem_, 1);
    bad->addWidget(drop_);
    column->addLayout(bad);
    pages_->insertTab(change, changing, tr("Change"));
    right->addWidget(pages_, 1);
    row.addLayout(right, 1);
}

void PacksStation::listen() {
    connect(list_, &QListWidget::currentItemChanged, this, [this] {
        draft_.reset();
        showPack();
    });
    connect(editor_, &DocumentEditor::edited, this, &PacksStation::take);
    connect(editor_, &DocumentEditor::chosenChanged, this, [this] { showLive(); });
    connect(drop_, &QPushButton::clicked, this, [this] {
        draft_.reset();
        shown_.clear();
        showPack();
    });
}

void PacksStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    showPack();
}

const technique::Pack* PacksStation::chosenPack() const {
    if (list_->currentItem() == nullptr) {
        return nullptr;
    }
    const std::string id = list_->currentItem()->data(Qt::UserRole).toString().toStdString();
    const auto found = std::find_if(desk_.shelf.packs().begin(), desk_.shelf.packs().end(),
                                    [&](const technique::Pack& pack) { return pack.id == id; });
    return found == desk_.shelf.packs().end() ? nullptr : &*found;
}

void PacksStation::choosePack(const std::string& id) {
    for (int i = 0; i < list_->count(); ++i) {
        if (list_->item(i)->data(Qt::UserRole).toString().toStdString() == id) {
            list_->setCurrentRow(i);
        }
    }
}

void PacksStation::choosePage(Page page) {
    pages_->setCurrentIndex(page);
}

void PacksStation::listPacks() {
    const technique::Pack* before = chosenPack();
    const bool otherChosen = before == nullptr && list_->currentItem() != nullptr;
    const std::string chosen =
        otherChosen            ? list_->currentItem()->data(Qt::UserRole).toString().toStdString()
        : before != nullptr    ? before->id
        : desk_.open.hasClip() ? desk_.open.pack().id
        : desk_.shelf.packs().empty() ? std::string()
                                      : desk_.shelf.packs().front().id;
    {
        const QSignalBlocker quiet(list_);
        list_->clear();
        constexpr int room = 12; // above and below the two lines
        const QSize twoLines(0, 2 * list_->fontMetrics().lineSpacing() + room);
        for (const technique::Pack& pack : desk_.shelf.packs()) {
            const bool own = desk_.shelf.isOwnPack(pack.id);
            const QString whose = !own ? QString()
                                  : desk_.shelf.shippedPack(pack.id) != nullptr
                                      ? tr(" · changed by you")
                                      : tr(" · your own");
            auto* item = new QListWidgetItem(text(pack.name) + "\n" + text(pack.sport) + whose);
            item->setData(Qt::UserRole, text(pack.id));
            item->setSizeHint(twoLines);
            list_->addItem(item);
        }
        const auto add = [&](const char* id, const QString& name, const QString& about) {
            auto* item = new QListWidgetItem(name + "\n" + about);
            item->setData(Qt::UserRole, QString(id));
            item->setSizeHint(twoLines);
            list_->addItem(item);
        };
        add(loadRule, tr("Load rule"),
            desk_.shelf.hasOwnLoadRule() ? tr("rest after throws · your own")
                                         : tr("rest after throws · an example"));
        add(ownDrills, tr("My own drills"), tr("for the faults of your packs"));
        choosePack(chosen);
        if (list_->currentRow() < 0) {
            list_->setCurrentRow(0);
        }
    }
    showPack();
}

void PacksStation::showPack() {
    const technique::Pack* pack = chosenPack();
    copy_->setEnabled(pack != nullptr);
    if (pack == nullptr) {
        loadRuleChosen() ? showLoadRule() : showDrills();
        return;
    }
    const bool own = desk_.shelf.isOwnPack(pack->id);
    shipped_->setVisible(own);
    shipped_->setText(desk_.shelf.shippedPack(pack->id) != nullptr ? tr("Back to shipped")
                                                                   : tr("Remove"));
    if (!isVisible()) {
        return; // pages are made when they are looked at
    }
    reader_->setPack(*pack);
    showText(pack->text, technique::packSchema(desk_.shelf.packFolder()), "pack.json");
    showLive();
}

bool PacksStation::showText(const std::string& content, const std::filesystem::path& schemaFile,
                            const char* fileName) {
    const bool anew = !draft_ && shown_ != content;
    if (anew) {
        shown_ = content;
        editor_->setSchema(Document::parse(technique::readText(schemaFile)));
        editor_->setDocument(technique::documentOf(content, fileName));
    }
    problem_->setVisible(draft_.has_value());
    drop_->setVisible(draft_.has_value());
    return anew;
}

void PacksStation::showDrills() {
    shipped_->hide();
    if (!isVisible()) {
        return;
    }
    const std::string own = desk_.shelf.ownDrills();
    const auto schema = coaching::drillSchema(desk_.shelf.packFolder());
    if (showText(own, schema, "drills.json")) {
        reader_->setDrills(coaching::drillsFromText(own, "drills.json", schema));
    }
    live_->clear();
}

void PacksStation::showLoadRule() {
    shipped_->setVisible(desk_.shelf.hasOwnLoadRule());
    shipped_->setText(tr("Back to the example"));
    if (!isVisible()) {
        return;
    }
    showText(desk_.shelf.loadRuleText(), coaching::loadRuleSchema(desk_.shelf.packFolder()),
             "load_rule.json");
    reader_->setLoadRule(desk_.shelf.loadRule());
    live_->clear();
}

void PacksStation::backToShipped() {
    const technique::Pack* pack = chosenPack();
    if (pack == nullptr) {
        desk_.packEdits.setLoadRule(std::nullopt, tr("Back to the example load rule"));
        return;
    }
    const std::string id = pack->id;
    desk_.packEdits.removeOwnPack(id, desk_.shelf.shippedPack(id) != nullptr
                                          ? tr("Back to the shipped %1").arg(text(pack->name))
                                          : tr("Remove %1").arg(text(pack->name)));
}

bool PacksStation::loadRuleChosen() const {
    return list_->currentItem() != nullptr &&
           list_->currentItem()->data(Qt::UserRole).toString() == loadRule;
}

void PacksStation::tellProblem(const Document& draft, const QString& reason) {
    draft_ = draft;
    problem_->setText(tr("<b>Not kept yet:</b> %1 Go on until it is whole, or drop the change. "
                         "What is judged meanwhile goes by what was there before.")
                          .arg(reason.toHtmlEscaped()));
    problem_->show();
    drop_->show();
    showLive();
}

void PacksStation::takeLoadRule(const Document& document, const QString& what) {
    try {
        draft_.reset();
        desk_.packEdits.setLoadRule(technique::textOf(document), what);
    } catch (const model::InputError& error) {
        tellProblem(document, words::inWords(error.happened()));
    }
}

void PacksStation::takeDrills(const Document& document, const QString& what) {
    try {
        draft_.reset();
        desk_.packEdits.setOwnDrills(technique::textOf(document), what);
    } catch (const model::InputError& error) {
        tellProblem(document, words::inWords(error.happened()));
    }
}

void PacksStation::take(const Document& document, const QString& what) {
    const technique::Pack* before = chosenPack();
    if (before == nullptr) {
        loadRuleChosen() ? takeLoadRule(document, what) : takeDrills(document, what);
        return;
    }
    const std::string written = technique::textOf(document);
    try {
        const technique::Pack pack = desk_.shelf.checkedPack(written);
        if (pack.id != before->id) {
            throw model::InputError(model::message("pack.id_changed"),
                                    model::message("safe.pack_as_it_was"),
                                    model::message("todo.copy_as_own"));
        }
        draft_.reset();
        shown_ = written;
        desk_.packEdits.setOwnPack(written, what);
    } catch (const model::InputError& error) {
        tellProblem(document, words::inWords(error.happened()));
    }
}

/// What the chosen measure or fault says of the rep that is open.
void PacksStation::showLive() {
    const technique::Pack* pack = chosenPack();
    const Document document =
        draft_ ? *draft_
               : (pack == nullptr ? Document() : technique::documentOf(pack->text, pack->file));
    live_->clear();
    if (pack == nullptr || draft_) {
        return;
    }
    const auto review = desk::judgedWith(desk_.open, *pack);
    if (!review) {
        live_->setText(tr("Open a clip of this technique to see here what a measure says of it."));
        return;
    }
    Pointer place = editor_->chosen();
    while (!place.empty() && place.parent_pointer().to_string() != "/measures" &&
           place.parent_pointer().to_string() != "/faults") {
        place = place.parent_pointer();
    }
    if (place.empty() || !document.contains(place)) {
        live_->setText(tr("Choose a measure or a fault to see here what it says of the open rep."));
        return;
    }
    const std::string id = document.at(place).at("id");
    if (place.parent_pointer().back() == "measures") {
        const auto reading =
            std::find_if(review->readings.begin(), review->readings.end(),
                         [&](const model::Reading& r) { return r.measureId == id; });
        const QString value = words::valueWithUncertainty(*reading);
        live_->setText(reading->missing
                           ? tr("On the open rep: %1").arg(words::inWords(reading->missing->why))
                           : tr("On the open rep: %1, %2%3")
                                 .arg(value, verdictText(reading->verdict),
                                      reading->range ? tr(" (good: %1)")
                                                           .arg(words::rangeText(*reading->range,
                                                                                 reading->unit))
                                                     : QString()));
        return;
    }
    const auto& faults = review->findings.faults;
    const bool found = std::any_of(faults.begin(), faults.end(),
                                   [&](const model::Fault& f) { return f.faultId == id; });
    live_->setText(found ? tr("On the open rep: this fault is found.")
                         : tr("On the open rep: this fault is not found."));
}

void PacksStation::copyAs(const QString& name) {
    const technique::Pack* pack = chosenPack();
    const std::string id = idFrom(name);
    desk_.problems.trying([&] {
        const auto& packs = desk_.shelf.packs();
        if (id.empty() || std::any_of(packs.begin(), packs.end(),
                                      [&](const technique::Pack& p) { return p.id == id; })) {
            throw model::InputError(model::message("pack.exists", name.toStdString()),
                                    model::message("safe.nothing_changed"),
                                    model::message("todo.other_name"));
        }
        const Document copy = technique::copied(technique::documentOf(pack->text, pack->file), id,
                                                name.toStdString());
        desk_.packEdits.setOwnPack(technique::textOf(copy), tr("Make %1").arg(name));
        choosePack(id);
        choosePage(change);
    });
}

void PacksStation::importFrom(const std::filesystem::path& file) {
    desk_.problems.trying([&] {
        const std::string content = technique::readText(file);
        if (technique::documentOf(content, file).contains("drills")) {
            desk_.packEdits.setOwnDrills(content, tr("Import drills"));
            choosePack(ownDrills);
            return;
        }
        if (technique::documentOf(content, file).contains("bands")) {
            desk_.packEdits.setLoadRule(content, tr("Import a load rule"));
            choosePack(loadRule);
            return;
        }
        const technique::Pack pack =
            technique::packFromText(content, file, technique::packSchema(desk_.shelf.packFolder()));
        desk_.packEdits.setOwnPack(content, tr("Import %1").arg(text(pack.name)));
        choosePack(pack.id);
    });
}

QString PacksStation::fileName() const {
    return chosenPack() != nullptr ? text(chosenPack()->id) + ".json"
           : loadRuleChosen()      ? QStringLiteral("load_rule.json")
                                   : QStringLiteral("drills.json");
}

void PacksStation::exportTo(const std::filesystem::path& file) {
    const std::string content = chosenPack() != nullptr ? chosenPack()->text
                                : loadRuleChosen()      ? desk_.shelf.loadRuleText()
                                                        : desk_.shelf.ownDrills();
    desk_.problems.trying([&] { report::saveWhole(file, QByteArray::fromStdString(content)); });
}

QStringList PacksStation::suggestions(const Pointer& field) const {
    const technique::Pack* pack = chosenPack();
    if (pack == nullptr || field.empty()) {
        return {};
    }
    const std::string key = field.back();
    QStringList known;
    const auto addIds = [&](const auto& items) {
        for (const auto& item : items) {
            known << text(item.id);
        }
    };
    if (key == "at" || key == "from" || key == "minus" || key == "anchor" || key == "position" ||
        key == "to") {
        addIds(pack->positions);
    } else if (key == "kind") {
        for (const technique::MeasureKind& kind : technique::allKinds()) {
            known << text(std::string(kind.id));
        }
    } else if (key == "school" || key == "default") {
        for (const technique::SchoolQuestion& question : pack->schools) {
            addIds(question.options);
        }
    } else if (key == "variant") {
        addIds(pack->variants);
    } else if (key == "shot") {
        addIds(pack->shots);
    } else if (key == "of") {
        addIds(pack->measures);
        addIds(pack->observations);
    } else if (key == "leads_to") {
        addIds(pack->faults);
    } else if (key == "drills") {
        for (const auto& [id, drill] : desk_.shelf.drills()) {
            known << text(id);
        }
    } else if (key == "points" || key == "landmarks" || key == "path") {
        for (const technique::Position& position : pack->positions) {
            for (const std::string& landmark : position.landmarks) {
                known << text(landmark);
            }
        }
        if (key != "landmarks") {
            const Document document = technique::documentOf(pack->text, pack->file);
            for (const auto& [name, weights] : document.at("points").items()) {
                known << text(name);
            }
            known << text(std::string(technique::centreOfMassPoint));
        }
        known.removeDuplicates();
        known.sort();
    }
    return known;
}

} // namespace kestrel::app
