#include "app/theme.h"

#include "report/fonts.h"
#include "report/palette.h"

#include <QApplication>
#include <QFont>
#include <QPalette>
#include <QStyleFactory>

namespace kestrel::app {
namespace {

constexpr const char* sheet = R"css(
#rail { background: #35434F; }
#rail QToolButton { color: #F7F1E4; border: 0; border-left: 4px solid transparent; border-radius: 0; background: transparent; }
#rail QToolButton:hover { background: #42525F; }
#rail QToolButton:checked { background: #51626F; border-left: 4px solid #D9825B; font-weight: bold; }
#header { background: #EFE6D3; border-bottom: 1px solid #D8CBB2; }
#openClipTitle { font-weight: bold; color: #35434F; }
QLabel[role="title"] { font-size: 17pt; font-weight: bold; color: #35434F; }
QLabel[role="heading"] { font-weight: bold; color: #7C3A20; }
QFrame[role="card"] { background: #FFFBF2; border: 1px solid #D8CBB2; border-radius: 5px; }
QPushButton { background: #FFFBF2; border: 1px solid #B9A98B; border-radius: 4px; padding: 4px 9px; color: #1B1E22; }
QPushButton:hover { background: #F4EAD6; }
QPushButton:pressed { background: #E8DABF; }
QPushButton:checked { background: #DDE4EA; border: 2px solid #4A5D70; padding: 3px 8px; }
QPushButton:disabled { color: #9A9384; border-color: #D8CBB2; }
QPushButton:focus { border: 2px solid #9C4A2A; }
QPushButton[role="primary"] { background: #9C4A2A; color: #FFF8EC; border-color: #7C3A20; font-weight: bold; }
QPushButton[role="primary"]:hover { background: #AE5633; }
QPushButton[role="primary"]:disabled { background: #CDB9A9; border-color: #CDB9A9; color: #F7F1E4; }
QListWidget, QTreeWidget, QTextBrowser, QPlainTextEdit { background: #FFFBF2; border: 1px solid #D8CBB2; border-radius: 4px; }
QListWidget::item { padding: 2px; border: 0; background: transparent; }
#players::item, #players::item:selected { padding: 7px; border: 0; }
QListWidget::item:selected, QTreeWidget::item:selected { background: #DDE4EA; color: #1B1E22; border: 0; }
QTreeWidget::item { padding: 3px 2px; border-bottom: 1px solid #EFE6D3; }
QHeaderView::section { background: #EFE6D3; color: #4A5D70; border: 0; padding: 3px 4px; font-weight: bold; }
#positionStrip QToolButton { border: 1px solid #D8CBB2; border-radius: 4px; background: #FFFBF2; padding: 2px; }
#positionStrip QToolButton:checked { border: 2px solid #9C4A2A; background: #F6E7D6; font-weight: bold; }
QToolButton:checked { background: #DDE4EA; }
#filmPages QScrollArea, #filmPages QScrollArea > QWidget > QWidget { background: transparent; }
QTabBar::tab { padding: 5px 12px; border: 1px solid #D8CBB2; border-bottom: 0; border-top-left-radius: 4px; border-top-right-radius: 4px; background: #EFE6D3; }
QTabBar::tab:selected { background: #FFFBF2; font-weight: bold; }
#rateQuestion { color: #7C3A20; }
QToolTip { background: #35434F; color: #F7F1E4; border: 0; padding: 3px; }
)css";

} // namespace

void applyTheme(QApplication& application) {
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    report::loadFonts();
    QFont font = QApplication::font();
    font.setFamily(report::fontFamily);
    QApplication::setFont(font);

    QPalette palette;
    palette.setColor(QPalette::Window, report::cream);
    palette.setColor(QPalette::WindowText, report::nearBlack);
    palette.setColor(QPalette::Base, QColor(0xFF, 0xFB, 0xF2));
    palette.setColor(QPalette::AlternateBase, QColor(0xF4, 0xEA, 0xD6));
    palette.setColor(QPalette::Text, report::nearBlack);
    palette.setColor(QPalette::Button, QColor(0xFF, 0xFB, 0xF2));
    palette.setColor(QPalette::ButtonText, report::nearBlack);
    palette.setColor(QPalette::Highlight, report::slate);
    palette.setColor(QPalette::HighlightedText, report::cream);
    palette.setColor(QPalette::PlaceholderText, QColor(0x8A, 0x82, 0x72));
    QApplication::setPalette(palette);
    application.setStyleSheet(QString::fromUtf8(sheet));
}

} // namespace kestrel::app
