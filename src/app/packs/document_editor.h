#pragma once

#include "technique/pack/pack_edit.h"

#include <QWidget>

#include <functional>

class QFormLayout;
class QLabel;
class QPushButton;
class QScrollArea;
class QTreeWidget;
class QTreeWidgetItem;

namespace kestrel::app {

/// Edits a JSON document along its schema: a tree of its parts, a form for the part that is chosen.
class DocumentEditor : public QWidget {
    Q_OBJECT
  public:
    using Document = technique::Document;
    using Pointer = technique::Pointer;
    /// What a field is likely to hold: ids of positions, landmarks, drills …; empty: anything.
    using Suggestions = std::function<QStringList(const Pointer& field)>;

    explicit DocumentEditor(QWidget* parent = nullptr);

    void setSchema(const Document& schema) { schema_ = schema; }
    void setSuggestions(Suggestions suggestions) { suggestions_ = std::move(suggestions); }
    /// Members of the whole that stand first in the tree, whatever their place in the file.
    void setFirst(std::vector<std::string> keys) { first_ = std::move(keys); }
    /// Shows a document; the part that was chosen stays so when it is still there.
    void setDocument(const Document& document);
    /// Chooses a part.
    void choose(const Pointer& place);
    [[nodiscard]] Pointer chosen() const;

  signals:
    /// The coach changed something; `what` names it.
    void edited(const kestrel::technique::Document& document, const QString& what);
    void chosenChanged();

  private:
    void addNodes(QTreeWidgetItem* parent, const Document& value, const Pointer& place);
    [[nodiscard]] std::vector<std::string> inOrder(const Document& value,
                                                   const Pointer& place) const;
    void buildForm();
    void addField(QFormLayout& form, const std::string& key, const Document& schema, bool required);
    [[nodiscard]] QWidget* fieldFor(const Pointer& place, const Document& schema, bool required);
    [[nodiscard]] QWidget* limitsField(const Pointer& place);
    [[nodiscard]] QWidget* linesField(const Pointer& place, const Document& schema, bool required);
    [[nodiscard]] QWidget* textField(const Pointer& place, bool required, bool number);
    void put(const Pointer& place, const Document& value);
    void addItem();
    void showButtons();

    Document schema_;
    Document document_;
    Suggestions suggestions_;
    std::vector<std::string> first_;
    QTreeWidget* tree_ = nullptr;
    QScrollArea* formArea_ = nullptr;
    QPushButton* add_ = nullptr;
    QPushButton* remove_ = nullptr;
    QPushButton* up_ = nullptr;
    QPushButton* down_ = nullptr;
    bool building_ = false;
};

} // namespace kestrel::app
