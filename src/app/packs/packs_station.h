#pragma once

#include "desk/desk.h"
#include "technique/pack/pack_edit.h"

#include <QWidget>

#include <optional>
#include <string>

class QHBoxLayout;
class QLabel;
class QListWidget;
class QPushButton;
class QTabWidget;

namespace kestrel::app {

class DocumentEditor;
class PackReader;

/// What the program knows of each technique: to read, to change, to copy, to carry.
class PacksStation : public QWidget {
    Q_OBJECT
  public:
    enum Page { read, change };

    explicit PacksStation(desk::Desk& desk, QWidget* parent = nullptr);

    /// Chooses a pack by id.
    void choosePack(const std::string& id);
    void choosePage(Page page);
    [[nodiscard]] PackReader& reader() { return *reader_; }

    /// Takes a pack file over as one of the coach's own.
    void importFrom(const std::filesystem::path& file);
    /// Writes the chosen pack to a file.
    void exportTo(const std::filesystem::path& file);
    /// Makes a copy of the chosen pack under that name and chooses it.
    void copyAs(const QString& name);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void addPages(QHBoxLayout& row);
    void listen();
    void listPacks();
    void showPack();
    void take(const technique::Document& document, const QString& what);
    void showLive();
    void takeDrills(const technique::Document& document, const QString& what);
    void showDrills();
    void takeLoadRule(const technique::Document& document, const QString& what);
    void showLoadRule();
    /// Shows a text in the editor, unless it does already or holds a draft; whether it did.
    bool showText(const std::string& content, const std::filesystem::path& schemaFile,
                  const char* fileName);
    /// Forgets what the coach made of the chosen entry.
    void backToShipped();
    /// The name of the entry's file when it is exported.
    [[nodiscard]] QString fileName() const;
    void tellProblem(const technique::Document& draft, const QString& reason);
    /// Null when the coach's own drills or the load rule are chosen.
    [[nodiscard]] const technique::Pack* chosenPack() const;
    [[nodiscard]] bool loadRuleChosen() const;
    [[nodiscard]] QStringList suggestions(const technique::Pointer& field) const;

    desk::Desk& desk_;
    QListWidget* list_ = nullptr;
    QTabWidget* pages_ = nullptr;
    PackReader* reader_ = nullptr;
    DocumentEditor* editor_ = nullptr;
    QLabel* problem_ = nullptr;
    QPushButton* drop_ = nullptr;
    QPushButton* shipped_ = nullptr;
    QPushButton* copy_ = nullptr;
    QLabel* live_ = nullptr;
    std::optional<technique::Document> draft_; ///< a change that is no whole pack yet
    std::string shown_;                        ///< text that the editor shows
};

} // namespace kestrel::app
