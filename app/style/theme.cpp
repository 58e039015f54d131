#include "app/style/theme.h"

#include <QApplication>
#include <QComboBox>
#include <QFontDatabase>
#include <QMenu>
#include <QPalette>
#include <QProxyStyle>
#include <QStringView>
#include <QWidget>
#include <algorithm>
#include <map>
#include <utility>
#include <vector>

// A static library's resources are only linked in if something names them; the macro must stand outside a
// namespace.
static void initResources() {
    Q_INIT_RESOURCE(resources);
}

namespace kettle::theme {
namespace {

QString sheet() {
    return QStringLiteral(R"(
* { color: #222222; }
QMainWindow, QWidget#paper { background: #EDEDED; }
QMenuBar { background: #EDEDED; border-bottom: 1px solid #CDCDCD; padding: 2px 8px; }
QMenuBar::item { padding: 4px 9px; border-radius: 4px; background: transparent; }
QMenuBar::item:selected { background: #DEDEDE; }
QMenu { background: #FAFAFA; border: 1px solid #CDCDCD; padding: 4px; }
QMenu::item { padding: 5px 28px 5px 12px; border-radius: 4px; }
QMenu::item:selected { background: #E2E8E7; }
QMenu::item:disabled { color: #8A8A8A; }
QMenu::separator { height: 1px; background: #CDCDCD; margin: 4px 8px; }
QSplitter::handle { background: #CDCDCD; }
QToolTip { background: #FAFAFA; color: #222222; border: 1px solid #CDCDCD; padding: 4px 6px; }
QPushButton, QComboBox, QToolButton { background: #FAFAFA; border: 1px solid #CDCDCD; border-radius: 6px; padding: 3px 10px; min-height: 18px; }
QPushButton:hover, QComboBox:hover, QToolButton:hover { border-color: #8A8A8A; }
QPushButton:pressed { background: #E6E6E6; }
QPushButton:disabled { color: #8A8A8A; }
QPushButton:focus, QComboBox:focus, QLineEdit:focus, QToolButton:focus { border: 1px solid #25665F; }
QPushButton#primary { border: 1px solid #25665F; font-weight: 600; }
QPushButton#quiet { background: transparent; border-color: transparent; color: #5C5C5C; padding: 3px 6px; }
QPushButton#quiet:hover { border-color: #CDCDCD; color: #222222; }
QPushButton#quiet:focus { border-color: #25665F; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/chevron.svg); width: 10px; height: 10px; }
QComboBox { combobox-popup: 0; }
QComboBox QAbstractItemView { background: #FAFAFA; border: 1px solid #8A8A8A; padding: 2px; selection-background-color: #E2E8E7; selection-color: #222222; outline: 0; }
QComboBox QAbstractItemView::item { background: #FAFAFA; border: none; padding: 2px 6px; min-height: 18px; }
QComboBox QAbstractItemView::item:selected { background: #E2E8E7; color: #222222; }
QLineEdit { background: #FAFAFA; border: 1px solid #CDCDCD; border-radius: 4px; padding: 2px 6px; selection-background-color: #25665F; selection-color: #FAFAFA; }
QLineEdit#layer-name { font-size: 15px; font-weight: 600; border-color: transparent; background: transparent; padding-left: 0; margin-left: -2px; }
QLineEdit#layer-name:hover, QLineEdit#layer-name:focus { border-color: #8A8A8A; background: #FAFAFA; padding-left: 4px; }
QPushButton[compact="true"], QToolButton[compact="true"] { padding: 3px 1px; }
QPushButton[compact="true"]:checked, QToolButton[compact="true"]:checked { border-color: #25665F; background: #E2E8E7; }
QLineEdit[compact="true"] { padding: 2px 3px; }
QComboBox[compact="true"] { padding: 2px 0 2px 4px; }
QComboBox[compact="true"]::drop-down { width: 14px; }
QPushButton#layer-mask { padding: 3px; }
QPushButton[left="true"] { text-align: left; }
QCheckBox { spacing: 8px; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid #8A8A8A; border-radius: 3px; background: #FAFAFA; }
QCheckBox::indicator:checked { background: #25665F; border-color: #25665F; image: url(:/icons/tick.svg); }
QCheckBox:focus { outline: none; }
QCheckBox::indicator:focus { border: 2px solid #25665F; }
QScrollArea { border: none; background: transparent; }
QAbstractScrollArea::corner { background: transparent; border: none; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle { background: #C4C4C4; border-radius: 4px; margin: 1px; min-height: 24px; min-width: 24px; }
QScrollBar::handle:hover { background: #A8A8A8; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QStatusBar { background: #EDEDED; border-top: 1px solid #CDCDCD; }
QStatusBar::item { border: none; }
QListWidget { background: #FAFAFA; border: 1px solid #CDCDCD; border-radius: 6px; outline: 0; }
QListWidget::item { padding: 4px 6px; }
QListWidget::item:selected { background: #E2E8E7; color: #222222; }
QProgressBar { background: #E2E2E2; border: none; border-radius: 3px; height: 6px; }
QProgressBar::chunk { background: #25665F; border-radius: 3px; }
QFrame#sheet { background: #F4F4F4; border: 1px solid #8A8A8A; border-radius: 8px; }
QFrame#drawer { background: #F4F4F4; border: none; border-right: 1px solid #8A8A8A; }
QFrame#drawer QListWidget { background: #F4F4F4; border: none; }
QFrame#drawer QToolButton:checked { border-color: #25665F; background: #E2E8E7; }
QToolButton#arrange:checked { border-color: #25665F; background: #E2E8E7; }
QFrame#drawer QTreeView { background: #F4F4F4; border: none; outline: none; }
QFrame#drawer QTreeView::item { height: 26px; }
QFrame#drawer QTreeView::item:selected { background: #DCE5E3; color: #1B1B1B; }
QFrame#drawer QHeaderView::section, QFrame#sheet QHeaderView::section { background: transparent; color: #5C5C5C;
  border: none; border-bottom: 1px solid #CDCDCD; padding: 2px 8px 4px 4px; }
QFrame#sheet QTreeView { background: #FAFAFA; border: 1px solid #CDCDCD; border-radius: 5px; outline: none; }
QFrame#sheet QTreeView::item { height: 24px; }
QFrame#sheet QTreeView::item:selected { background: #DCE5E3; color: #1B1B1B; }
QFileDialog QToolButton { padding: 3px; min-height: 16px; min-width: 16px; }
QToolButton#status, QToolButton#drawers { background: transparent; border: none; border-radius: 4px; padding: 0 8px; min-height: 18px; margin-right: 4px; color: #5C5C5C; }
QToolButton#status:hover, QToolButton#drawers:hover { background: #DEDEDE; }
QToolButton#status:focus, QToolButton#drawers:focus { border: 1px solid #25665F; }
QFrame#message { background: #FAFAFA; border: 1px solid #8A8A8A; border-radius: 6px; }
QLabel#drop { background: #FAFAFA; border: 1px solid #25665F; border-radius: 8px; font-size: 13px; }
QLabel#quiet, QLabel#where { color: #5C5C5C; }
QLabel#warning { color: #9C5500; }
QLabel#title { font-size: 14px; font-weight: 600; }
QLabel#bracket { color: #5C5C5C; border: none; border-left: 2px solid #25665F; padding: 2px 0 2px 10px; }
QLabel#section { font-weight: 600; padding-top: 2px; }
QLabel#chip, QToolButton#chip { background: #FAFAFA; border: 1px solid transparent; border-radius: 5px; padding: 2px 8px; }
QToolButton#chip:hover { border-color: #8A8A8A; }
QToolButton#chip:focus { border-color: #25665F; }
QToolButton#chip::menu-indicator { image: none; width: 0; }
QToolButton#page { background: transparent; border-color: transparent; }
QToolButton#page:hover { border-color: #CDCDCD; }
QToolButton#page:checked { background: #E2E8E7; border-color: #25665F; font-weight: 600; }
QToolButton#free:checked { background: #E2E8E7; border-color: #25665F; }
QSpinBox { background: #FAFAFA; border: 1px solid #CDCDCD; border-radius: 6px; padding: 3px 8px; min-height: 18px; selection-background-color: #25665F; selection-color: #FAFAFA; }
QSpinBox:focus { border-color: #25665F; }
QSpinBox::up-button, QSpinBox::down-button { border: none; width: 18px; }
QSpinBox::up-arrow { image: url(:/icons/chevron-up.svg); width: 10px; height: 8px; }
QSpinBox::down-arrow { image: url(:/icons/chevron.svg); width: 10px; height: 8px; }
QFrame#rule { background: #CDCDCD; border: none; }
QListView#shelf { background: #F4F4F4; padding: 0 8px; }
kettle--RecoveryBar { background: #FAFAFA; border-bottom: 1px solid #CDCDCD; }
*[warns="true"] { color: #9C5500; font-weight: 600; }
QLabel#mark { color: #5C5C5C; font-weight: 600; }
QLabel#mark[fails="true"] { color: #A3281E; }
)");
}

/// Fusion with larger pictures in menus (the sheet's icon-size changes the room for them alone), and long
/// choices that show without scrolling.
class Style final : public QProxyStyle {
public:
    Style() : QProxyStyle(QStringLiteral("Fusion")) {}
    using QProxyStyle::polish;
    void polish(QWidget* widget) override {
        QProxyStyle::polish(widget);
        if (auto* box = qobject_cast<QComboBox*>(widget)) box->setMaxVisibleItems(20);
        // A click on a control leaves the keys where they are, with the board; Tab still reaches it.
        if (qobject_cast<QAbstractButton*>(widget) != nullptr ||
            (qobject_cast<QComboBox*>(widget) != nullptr && !qobject_cast<QComboBox*>(widget)->isEditable()))
            if (widget->focusPolicy() != Qt::NoFocus) widget->setFocusPolicy(Qt::TabFocus);
    }
    int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override {
        // The sheet's drawing of a menu's item asks without naming the menu.
        if (metric == PM_SmallIconSize &&
            (widget == nullptr || qobject_cast<const QMenu*>(widget) != nullptr))
            return kMenuPicture;
        return QProxyStyle::pixelMetric(metric, option, widget);
    }
};

}  // namespace

QFont font(int pixels, bool heavy) {
    // Copies of one font share what was looked up for it; a new one is looked up anew at its first text.
    thread_local std::map<std::pair<int, bool>, QFont> known;
    if (const auto at = known.find({pixels, heavy}); at != known.end()) return at->second;
    QFont f(QStringLiteral("Inter"));
    f.setPixelSize(pixels);
    f.setWeight(heavy ? QFont::DemiBold : QFont::Normal);
    return known[{pixels, heavy}] = f;
}

void loadFonts() {
    initResources();
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/Inter-Regular.otf"));
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/Inter-SemiBold.otf"));
}

namespace {

/// Each of the pale theme's colours with what stands for it at dusk.
const std::vector<std::pair<QString, QString>>& dusk() {
    static const std::vector<std::pair<QString, QString>> colours{
        {QStringLiteral("#222222"), QStringLiteral("#E6E6E6")},
        {QStringLiteral("#1B1B1B"), QStringLiteral("#F0F0F0")},
        {QStringLiteral("#EDEDED"), QStringLiteral("#292929")},
        {QStringLiteral("#F4F4F4"), QStringLiteral("#2F2F2F")},
        {QStringLiteral("#FAFAFA"), QStringLiteral("#363636")},
        {QStringLiteral("#CDCDCD"), QStringLiteral("#4E4E4E")},
        {QStringLiteral("#8A8A8A"), QStringLiteral("#8E8E8E")},
        {QStringLiteral("#5C5C5C"), QStringLiteral("#B8B8B8")},
        {QStringLiteral("#DEDEDE"), QStringLiteral("#3C3C3C")},
        {QStringLiteral("#E6E6E6"), QStringLiteral("#444444")},
        {QStringLiteral("#E2E8E7"), QStringLiteral("#40494A")},
        {QStringLiteral("#DCE5E3"), QStringLiteral("#40494A")},
        {QStringLiteral("#C4C4C4"), QStringLiteral("#5C5C5C")},
        {QStringLiteral("#A8A8A8"), QStringLiteral("#7A7A7A")},
        {QStringLiteral("#E2E2E2"), QStringLiteral("#464646")},
        {QStringLiteral("#DCDCDC"), QStringLiteral("#4A4A4A")},
        {QStringLiteral("#E0E0E0"), QStringLiteral("#3D3D3D")},
        {QStringLiteral("#25665F"), QStringLiteral("#6FC2B6")},
        {QStringLiteral("#9C5500"), QStringLiteral("#E8A857")},
        {QStringLiteral("#A3281E"), QStringLiteral("#F2948A")},
        {QStringLiteral("chevron.svg"), QStringLiteral("chevron-dusk.svg")},
        {QStringLiteral("chevron-up.svg"), QStringLiteral("chevron-up-dusk.svg")},
        {QStringLiteral("tick.svg"), QStringLiteral("tick-dusk.svg")}};
    return colours;
}

Theme& inForce() {
    static Theme theme = Theme::Pale;
    return theme;
}

void setTokens() {
    const std::pair<QColor*, const char*> tokens[] = {
        {&kPaper, "#EDEDED"}, {&kPanel, "#F4F4F4"}, {&kCard, "#FAFAFA"},  {&kHairline, "#CDCDCD"},
        {&kEdge, "#8A8A8A"},  {&kInk, "#222222"},   {&kQuiet, "#5C5C5C"}, {&kAccent, "#25665F"},
        {&kAmber, "#9C5500"}, {&kBrick, "#A3281E"}, {&kShade, "#DCDCDC"}, {&kTint, "#E2E8E7"},
        {&kBand, "#E0E0E0"}};
    for (const auto& [token, pale] : tokens) *token = QColor(themed(QString::fromLatin1(pale)));
}

void setLook(QApplication& application) {
    QPalette palette;
    palette.setColor(QPalette::Window, kPaper);
    palette.setColor(QPalette::Base, kCard);
    palette.setColor(QPalette::AlternateBase, kPanel);
    palette.setColor(QPalette::Button, kCard);
    palette.setColor(QPalette::Text, kInk);
    palette.setColor(QPalette::WindowText, kInk);
    palette.setColor(QPalette::ButtonText, kInk);
    palette.setColor(QPalette::ToolTipBase, kCard);
    palette.setColor(QPalette::ToolTipText, kInk);
    palette.setColor(QPalette::Highlight, kAccent);
    palette.setColor(QPalette::HighlightedText, kCard);
    palette.setColor(QPalette::PlaceholderText, kQuiet);
    application.setPalette(palette);
    application.setStyleSheet(themed(sheet()));
}

}  // namespace

Theme theme() {
    return inForce();
}

QString themed(QString sheet) {
    if (inForce() == Theme::Pale) return sheet;
    // In one pass: some greys stand for others that are replaced too.
    QString made;
    for (qsizetype at = 0; at < sheet.size();) {
        const auto found = std::find_if(dusk().begin(), dusk().end(), [&](const auto& pair) {
            return QStringView(sheet).mid(at).startsWith(pair.first);
        });
        made += found == dusk().end() ? QString(sheet[at]) : found->second;
        at += found == dusk().end() ? 1 : found->first.size();
    }
    return made;
}

void choose(Theme theme) {
    if (theme == inForce()) return;
    inForce() = theme;
    setTokens();
    auto* application = qobject_cast<QApplication*>(QCoreApplication::instance());
    if (application == nullptr) return;
    setLook(*application);
    for (QWidget* widget : QApplication::allWidgets()) widget->update();
}

void setWarning(QWidget* chip, bool warns) {
    if (chip->property("warns").toBool() == warns) return;
    chip->setProperty("warns", warns);
    chip->style()->unpolish(chip);
    chip->style()->polish(chip);
}

void apply(QApplication& application) {
    loadFonts();
    application.setStyle(new Style);
    application.setFont(font());
    setLook(application);
}

}  // namespace kettle::theme
