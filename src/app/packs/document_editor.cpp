#include "app/packs/document_editor.h"

#include "app/packs/lines_edit.h"
#include "app/shared/text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QSplitter>
#include <QTimer>
#include <QTreeWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace kestrel::app {
namespace {

using technique::Document;
using technique::Pointer;

/// "look_for" → "Look for".
QString spoken(const std::string& key) {
    QString words = text(key).replace('_', ' ');
    if (!words.isEmpty()) {
        words[0] = words[0].toUpper();
    }
    return words;
}

bool holdsObjects(const Document& value) {
    return value.is_object() || (value.is_array() && !value.empty() && value.front().is_object());
}

bool listOfObjects(const Document& schema, const Document& root) {
    if (!schema.contains("items") || schema.at("items").is_array()) {
        return false;
    }
    Document items = schema.at("items");
    if (items.contains("$ref")) {
        items = root.at(Pointer(items.at("$ref").get<std::string>().substr(1)));
    }
    return items.contains("properties");
}

/// An object of known members.
bool isPart(const Document& schema) {
    return schema.value("type", Document()) == "object" && schema.contains("properties");
}

QString numberText(const Document& value) {
    return value.is_number() ? QString::number(value.get<double>(), 'g', 10) : QString();
}

/// What a part is called in the tree.
QString titleOf(const Document& value, const std::string& key) {
    if (value.is_object() && value.contains("good") && value.at("good").is_array()) {
        const Document& good = value.at("good");
        const auto limit = [](const Document& end) {
            return end.is_number() ? numberText(end) : DocumentEditor::tr("open");
        };
        return DocumentEditor::tr("%1 to %2").arg(limit(good.at(0)), limit(good.at(1)));
    }
    if (value.is_object()) {
        for (const char* naming : {"name", "text", "question", "of", "school", "basis", "id"}) {
            if (value.contains(naming) && value.at(naming).is_string()) {
                return text(value.at(naming).get<std::string>());
            }
        }
    }
    const bool number = key.find_first_not_of("0123456789") == std::string::npos;
    return number ? DocumentEditor::tr("no. %1").arg(std::stoi(key) + 1) : spoken(key);
}

/// A number as the coach writes it, with a point or a comma.
std::optional<double> numberFrom(QString written) {
    bool good = false;
    const double value = written.replace(',', '.').trimmed().toDouble(&good);
    return good ? std::optional(value) : std::nullopt;
}

/// Whole numbers without a point, as they stand in the packs.
Document numberDocument(double value) {
    const auto whole = static_cast<std::int64_t>(value);
    return static_cast<double>(whole) == value ? Document(whole) : Document(value);
}

constexpr int placeRole = Qt::UserRole;

} // namespace

DocumentEditor::DocumentEditor(QWidget* parent) : QWidget(parent) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    auto* split = new QSplitter;
    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    tree_ = new QTreeWidget;
    tree_->setObjectName("packTree");
    tree_->setAccessibleName(tr("Parts"));
    tree_->setHeaderHidden(true);
    column->addWidget(tree_, 1);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& label, const QString& tip) {
        auto* b = new QPushButton(label);
        b->setObjectName(name);
        b->setToolTip(tip);
        buttons->addWidget(b);
        return b;
    };
    add_ = button("addPart", tr("Add"), tr("Adds a part of this kind, to be filled in"));
    remove_ = button("removePart", tr("Remove"), tr("Removes the chosen part"));
    up_ = button("partUp", tr("Up"), tr("Moves the chosen part up"));
    down_ = button("partDown", tr("Down"), tr("Moves the chosen part down"));
    column->addLayout(buttons);
    split->addWidget(left);
    formArea_ = new QScrollArea;
    formArea_->setWidgetResizable(true);
    formArea_->setFrameShape(QFrame::NoFrame);
    split->addWidget(formArea_);
    split->setStretchFactor(0, 2);
    split->setStretchFactor(1, 3);
    whole->addWidget(split, 1);

    connect(tree_, &QTreeWidget::currentItemChanged, this, [this] {
        if (!building_) {
            buildForm();
            showButtons();
            emit chosenChanged();
        }
    });
    connect(add_, &QPushButton::clicked, this, &DocumentEditor::addItem);
    connect(remove_, &QPushButton::clicked, this, [this] {
        const QString what = tr("Remove %1").arg(tree_->currentItem()->text(0));
        const Document changed = technique::without(document_, chosen());
        setDocument(changed); // even if it is not whole now and is not kept yet
        emit edited(changed, what);
    });
    const auto move = [this](int by) {
        const Pointer place = chosen();
        const int to = std::stoi(place.back()) + by;
        const QString what = tr("Move %1").arg(tree_->currentItem()->text(0));
        Document changed = technique::moved(document_, place, by);
        document_ = changed;
        setDocument(document_);
        choose(place.parent_pointer() / static_cast<std::size_t>(to));
        emit edited(changed, what);
    };
    connect(up_, &QPushButton::clicked, this, [move] { move(-1); });
    connect(down_, &QPushButton::clicked, this, [move] { move(1); });
}

/// The members of an object; of the whole, those that a coach looks for first.
std::vector<std::string> DocumentEditor::inOrder(const Document& value,
                                                 const Pointer& place) const {
    std::vector<std::string> keys;
    if (place.empty()) {
        std::copy_if(first_.begin(), first_.end(), std::back_inserter(keys),
                     [&](const std::string& key) { return value.contains(key); });
    }
    for (const auto& [key, child] : value.items()) {
        if (std::find(keys.begin(), keys.end(), key) == keys.end()) {
            keys.push_back(key);
        }
    }
    return keys;
}

void DocumentEditor::addNodes(QTreeWidgetItem* parent, const Document& value,
                              const Pointer& place) {
    const auto node = [&](const Document& child, const Pointer& at) {
        auto* item = new QTreeWidgetItem(parent, {titleOf(child, at.back())});
        item->setData(0, placeRole, text(at.to_string()));
        item->setToolTip(0, item->text(0));
        addNodes(item, child, at);
        return item;
    };
    if (value.is_array()) {
        for (std::size_t i = 0; i < value.size(); ++i) {
            node(value.at(i), place / i);
        }
        return;
    }
    if (!value.is_object()) {
        return;
    }
    for (const std::string& key : inOrder(value, place)) {
        const Document& child = value.at(key);
        const Document schema = technique::schemaAt(schema_, place / key);
        if (holdsObjects(child) || listOfObjects(schema, schema_)) {
            auto* item = node(child, place / key);
            item->setText(0, spoken(key));
        }
    }
    // Parts that may be there and are not yet, so that they, or a first item, can be added.
    const Document schema = technique::schemaAt(schema_, place);
    const Document properties = schema.value("properties", Document::object());
    for (const auto& [key, property] : properties.items()) {
        if (value.contains(key)) {
            continue;
        }
        if (listOfObjects(property, schema_)) {
            node(Document::array(), place / key)->setText(0, spoken(key));
        } else if (isPart(technique::schemaAt(schema_, place / key))) {
            auto* item = new QTreeWidgetItem(parent, {tr("%1 (none)").arg(spoken(key))});
            item->setData(0, placeRole, text((place / key).to_string()));
            item->setForeground(0, palette().brush(QPalette::Disabled, QPalette::Text));
        }
    }
}

void DocumentEditor::setDocument(const Document& document) {
    const Pointer before = tree_->currentItem() == nullptr ? Pointer() : chosen();
    QStringList open;
    for (QTreeWidgetItemIterator it(tree_); *it != nullptr; ++it) {
        if ((*it)->isExpanded()) {
            open << (*it)->data(0, placeRole).toString();
        }
    }
    building_ = true;
    document_ = document;
    tree_->clear();
    auto* root = new QTreeWidgetItem(tree_, {tr("The whole")});
    root->setData(0, placeRole, QString());
    addNodes(root, document_, Pointer());
    root->setExpanded(true);
    for (QTreeWidgetItemIterator it(tree_); *it != nullptr; ++it) {
        if (open.contains((*it)->data(0, placeRole).toString())) {
            (*it)->setExpanded(true);
        }
    }
    building_ = false;
    choose(before);
}

void DocumentEditor::choose(const Pointer& place) {
    QTreeWidgetItem* best = tree_->topLevelItem(0);
    const QString wanted = text(place.to_string());
    for (QTreeWidgetItemIterator it(tree_); *it != nullptr; ++it) {
        const QString here = (*it)->data(0, placeRole).toString();
        if (here == wanted) {
            best = *it;
        }
    }
    const bool same = tree_->currentItem() == best;
    tree_->setCurrentItem(best);
    tree_->scrollToItem(best);
    if (same) {
        buildForm();
        showButtons();
    }
}

Pointer DocumentEditor::chosen() const {
    return Pointer(tree_->currentItem()->data(0, placeRole).toString().toStdString());
}

void DocumentEditor::showButtons() {
    const Pointer place = chosen();
    const Document schema = technique::schemaAt(schema_, place);
    const bool list = schema.contains("items");
    const bool named =
        schema.contains("additionalProperties") && schema.at("additionalProperties").is_object();
    bool item = false;
    if (!place.empty()) {
        const Document parent = technique::schemaAt(schema_, place.parent_pointer());
        item = parent.contains("items");
        const Document required = parent.value("required", Document::array());
        const bool needed =
            std::find(required.begin(), required.end(), Document(place.back())) != required.end();
        remove_->setEnabled((item || !needed) && document_.contains(place));
    } else {
        remove_->setEnabled(false);
    }
    const bool absent = isPart(schema) && !document_.contains(place);
    add_->setEnabled(list || named || item || absent);
    up_->setEnabled(item);
    down_->setEnabled(item);
}

void DocumentEditor::addItem() {
    Pointer list = chosen();
    Document schema = technique::schemaAt(schema_, list);
    if (isPart(schema) && !document_.contains(list)) {
        put(list, technique::smallest(schema_, schema));
        return;
    }
    if (!schema.contains("items") && schema.contains("additionalProperties") &&
        schema.at("additionalProperties").is_object()) {
        const QString name = QInputDialog::getText(this, tr("Add"), tr("Its name:"));
        if (!name.isEmpty()) {
            put(list / name.toStdString(),
                technique::smallest(schema_, schema.at("additionalProperties")));
        }
        return;
    }
    if (!schema.contains("items")) { // one more like the chosen one
        list = list.parent_pointer();
        schema = technique::schemaAt(schema_, list);
    }
    const std::size_t place = document_.contains(list) ? document_.at(list).size() : std::size_t{0};
    const Document changed =
        technique::withAdded(document_, list, technique::smallest(schema_, schema.at("items")));
    const QString what = tr("Add to %1").arg(spoken(list.back()));
    setDocument(changed);
    choose(list / place);
    emit edited(changed, what);
}

void DocumentEditor::put(const Pointer& place, const Document& value) {
    const Document before = document_.contains(place) ? document_.at(place) : Document();
    if (before == value) {
        return;
    }
    const Document changed = technique::withValue(document_, place, value);
    const QString what = tr("Change %1").arg(spoken(place.back()).toLower());
    // After the field's own event is done: the form is built anew.
    QTimer::singleShot(0, this, [this, changed, what] {
        setDocument(changed);
        emit edited(changed, what);
    });
}

QWidget* DocumentEditor::textField(const Pointer& place, bool required, bool number) {
    const Document value = document_.contains(place) ? document_.at(place) : Document();
    const QString now = number ? numberText(value)
                               : (value.is_string() ? text(value.get<std::string>()) : QString());
    const auto take = [this, place, required, number](const QString& written) {
        if (number) {
            const auto value = numberFrom(written);
            if (value || written.trimmed().isEmpty()) {
                put(place, value ? numberDocument(*value) : Document());
            }
            return;
        }
        const bool gone = written.isEmpty() && !required;
        put(place, gone ? Document() : Document(written.toStdString()));
    };
    const QStringList known = suggestions_ && !number ? suggestions_(place) : QStringList();
    if (!known.isEmpty()) {
        auto* box = new QComboBox;
        box->setEditable(true);
        if (!required) {
            box->addItem(QString());
        }
        box->addItems(known);
        box->setCurrentText(now);
        connect(box, &QComboBox::activated, this, [box, take] { take(box->currentText()); });
        connect(box->lineEdit(), &QLineEdit::editingFinished, this,
                [box, take] { take(box->currentText()); });
        return box;
    }
    constexpr int longText = 60; // characters
    if (!number && now.size() > longText) {
        auto* lines = new LinesEdit(now, 3);
        connect(lines, &LinesEdit::finished, this,
                [take](QString written) { take(written.replace('\n', ' ').trimmed()); });
        return lines;
    }
    auto* line = new QLineEdit(now);
    connect(line, &QLineEdit::editingFinished, this, [line, take] { take(line->text()); });
    return line;
}

/// Lower and upper limit of a range; an empty one is open.
QWidget* DocumentEditor::limitsField(const Pointer& place) {
    auto* both = new QWidget;
    auto* row = new QHBoxLayout(both);
    row->setContentsMargins(0, 0, 0, 0);
    const Document value =
        document_.contains(place) ? document_.at(place) : Document::array({nullptr, nullptr});
    std::array<QLineEdit*, 2> ends{};
    for (std::size_t i = 0; i < ends.size(); ++i) {
        ends[i] = new QLineEdit(numberText(value.at(i)));
        ends[i]->setObjectName(i == 0 ? "limitLow" : "limitHigh");
        ends[i]->setAccessibleName(i == 0 ? tr("Lower limit") : tr("Upper limit"));
        ends[i]->setPlaceholderText(tr("open"));
    }
    row->addWidget(ends[0]);
    row->addWidget(new QLabel(tr("to")));
    row->addWidget(ends[1]);
    for (QLineEdit* end : ends) {
        connect(end, &QLineEdit::editingFinished, this, [this, place, ends] {
            Document limits = Document::array();
            for (const QLineEdit* e : ends) {
                const auto number = numberFrom(e->text());
                limits.push_back(number ? numberDocument(*number) : Document());
            }
            put(place, limits);
        });
    }
    return both;
}

/// A list of texts or numbers, one a line.
QWidget* DocumentEditor::linesField(const Pointer& place, const Document& schema, bool required) {
    const Document value = document_.contains(place) ? document_.at(place) : Document::array();
    QStringList lines;
    for (const Document& item : value) {
        lines << (item.is_string() ? text(item.get<std::string>()) : numberText(item));
    }
    constexpr int fewestLines = 2;
    constexpr int mostLines = 8;
    auto* field = new LinesEdit(
        lines.join('\n'), std::clamp(static_cast<int>(lines.size()) + 1, fewestLines, mostLines));
    const bool numbers = schema.contains("items") && schema.at("items").is_object() &&
                         schema.at("items").value("type", Document("string")) == "number";
    connect(field, &LinesEdit::finished, this,
            [this, place, numbers, required](const QString& written) {
                Document list = Document::array();
                for (const QString& line : written.split('\n', Qt::SkipEmptyParts)) {
                    const auto number = numbers ? numberFrom(line) : std::nullopt;
                    list.push_back(number ? numberDocument(*number)
                                          : Document(line.trimmed().toStdString()));
                }
                if (list.empty() && !document_.contains(place)) {
                    return;
                }
                put(place, list.empty() && !required ? Document() : list);
            });
    const QStringList known = suggestions_ ? suggestions_(place) : QStringList();
    if (known.isEmpty()) {
        return field;
    }
    auto* both = new QWidget;
    auto* column = new QVBoxLayout(both);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(field);
    auto* more = new QComboBox;
    more->setAccessibleName(tr("Add to the list"));
    more->addItem(tr("add…"));
    more->addItems(known);
    column->addWidget(more);
    connect(more, &QComboBox::activated, this, [field, more](int index) {
        if (index > 0) {
            field->appendPlainText(more->currentText());
            emit field->finished(field->toPlainText());
        }
    });
    return both;
}

QWidget* DocumentEditor::fieldFor(const Pointer& place, const Document& schema, bool required) {
    const Document value = document_.contains(place) ? document_.at(place) : Document();
    if (schema.contains("enum")) {
        auto* box = new QComboBox;
        if (!required) {
            box->addItem(QString());
        }
        for (const Document& option : schema.at("enum")) {
            box->addItem(text(option.get<std::string>()));
        }
        box->setCurrentText(value.is_string() ? text(value.get<std::string>()) : QString());
        connect(box, &QComboBox::activated, this, [this, box, place] {
            const std::string chosen = box->currentText().toStdString();
            put(place, chosen.empty() ? Document() : Document(chosen));
        });
        return box;
    }
    const Document type = schema.value("type", Document("string"));
    if (type == "boolean") {
        auto* box = new QCheckBox;
        box->setChecked(value.is_boolean() && value.get<bool>());
        connect(box, &QCheckBox::toggled, this, [this, place, required](bool on) {
            // What need not be said is not there rather than false.
            put(place, on || required ? Document(on) : Document());
        });
        return box;
    }
    if (type == "array") {
        const Document items = schema.value("items", Document::object());
        const bool limits = items.is_object() && items.contains("type") &&
                            items.at("type").is_array() && schema.value("maxItems", 0) == 2;
        return limits ? limitsField(place) : linesField(place, schema, required);
    }
    return textField(place, required, type == "number" || type == "integer");
}

void DocumentEditor::addField(QFormLayout& form, const std::string& key, const Document& schema,
                              bool required) {
    const Pointer place = chosen() / key;
    QWidget* field = fieldFor(place, schema, required);
    const QString label = spoken(key);
    field->setAccessibleName(label);
    if (field->objectName().isEmpty()) {
        field->setObjectName("field_" + text(key));
    }
    if (schema.contains("description")) {
        field->setToolTip(text(schema.at("description").get<std::string>()));
    }
    form.addRow(required ? label + " *" : label, field);
}

void DocumentEditor::buildForm() {
    auto* page = new QWidget;
    auto* whole = new QVBoxLayout(page);
    auto* form = new QFormLayout;
    whole->addLayout(form);
    whole->addStretch(1); // what is left is below the fields, not between them
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->setRowWrapPolicy(QFormLayout::WrapLongRows);
    const Pointer place = chosen();
    const Document schema = technique::schemaAt(schema_, place);
    if (schema.contains("description")) {
        auto* about = new QLabel(text(schema.at("description").get<std::string>()));
        about->setWordWrap(true);
        form->addRow(about);
    }
    const Document required = schema.value("required", Document::array());
    const bool absent = isPart(schema) && !document_.contains(place);
    const Document properties =
        absent ? Document::object() : schema.value("properties", Document::object());
    for (const auto& [key, unfollowed] : properties.items()) {
        const Document property = technique::schemaAt(schema_, place / key);
        const bool part = property.contains("properties") || listOfObjects(property, schema_) ||
                          (property.contains("additionalProperties") &&
                           property.at("additionalProperties").is_object());
        if (!part && !property.contains("const")) {
            const bool needed =
                std::find(required.begin(), required.end(), Document(key)) != required.end();
            addField(*form, key, property, needed);
        }
    }
    // Members with names of the coach's own, such as the weights of a point.
    const Document value = document_.contains(place) ? document_.at(place) : Document();
    const Document more = schema.value("additionalProperties", Document());
    if (value.is_object() && more.is_object()) {
        for (const auto& [key, child] : value.items()) {
            if (!child.is_object()) {
                addField(*form, key, technique::schemaAt(schema_, place / key), false);
            }
        }
    }
    if (form->rowCount() == 0) {
        auto* hint = new QLabel(absent ? tr("It has none. Add one when it needs it.")
                                       : tr("Choose one of its parts in the tree, or Add one."));
        hint->setWordWrap(true);
        form->addRow(hint);
    }
    formArea_->setWidget(page);
}

} // namespace kestrel::app
