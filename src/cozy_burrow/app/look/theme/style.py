"""The style sheet, made from the theme's roles."""

from __future__ import annotations

from string import Template

_SHEET = Template(
    """
* { font-family: Lato; }
QWidget { color: $ink; }
#panel { background: $panel; border: 1px solid $line; border-radius: ${r8}px; }
#inside { background: $panel; }
#bar { background: $panel; border-bottom: 1px solid $line; }
#banner { background: $care_soft; border: 1px solid $care; border-radius: ${r6}px; }
QLabel#head { font-size: ${f16}px; font-weight: bold; }
QLabel#soft { color: $ink_soft; font-size: ${f12}px; }
QLabel#verdict { background: $paper; border-left: 4px solid $accent; padding: ${p6}px; }
QLabel#refused { color: $stop; font-size: ${f12}px; }
QStatusBar { background: $panel; border-top: 1px solid $line; color: $ink; }
QStatusBar::item { border: none; }
QPushButton, QToolButton {
    background: $paper; border: 1px solid $line_strong; border-radius: ${r6}px;
    padding: ${p5}px ${p10}px; min-height: ${h22}px; color: $ink;
}
QPushButton:hover, QToolButton:hover { background: $accent_soft; }
QPushButton:pressed, QToolButton:pressed, QPushButton:checked, QToolButton:checked {
    background: $accent; color: $on_accent; border-color: $accent;
}
QPushButton:disabled, QToolButton:disabled { color: $ink_soft; border-color: $line; background: $panel; }
QToolButton#rail { padding: ${p4}px 0px; font-weight: bold; }
QPushButton#wish { min-height: 0px; padding: 0px; }
QPushButton#fold, QPushButton#fold:checked { background: transparent; color: $ink; border-color: transparent;
    font-size: ${f16}px; font-weight: bold; text-align: left; padding-left: 0px; }
QPushButton#fold:hover { background: $accent_soft; }
QPushButton#fold:focus { border: 2px solid $accent; }
QPushButton#narrow { padding-left: ${p4}px; padding-right: ${p4}px; }
QPushButton#main { background: $accent; color: $on_accent; border-color: $accent; font-weight: bold; }
QPushButton#main:disabled { background: $panel; color: $ink_soft; border-color: $line; }
QPushButton:focus, QToolButton:focus, QLineEdit:focus, QComboBox:focus, QSpinBox:focus,
QListView:focus, QTableView:focus, QPlainTextEdit:focus, QGraphicsView:focus, QTextBrowser:focus {
    border: 2px solid $accent;
}
QPushButton[far="true"] { font-size: ${f20}px; min-height: ${h34}px; }
QCheckBox { min-height: ${h32}px; spacing: ${p6}px; }
QCheckBox::indicator { width: ${p14}px; height: ${p14}px; background: $paper; border: 1px solid $line_strong;
    border-radius: ${r4}px; }
QCheckBox::indicator:hover { background: $accent_soft; }
QCheckBox::indicator:checked { image: url($icon_tick); border-color: $accent; }
QCheckBox::indicator:focus { border: 2px solid $accent; }
QCheckBox::indicator:disabled { background: $panel; border-color: $line; }
QCheckBox:focus { color: $accent; text-decoration: underline; }
QPushButton#main:focus { border: 2px solid $ink; }
QSpinBox::up-button, QSpinBox::down-button { width: ${h22}px; border: none; background: transparent; }
QSpinBox::up-arrow { image: url($icon_up); width: ${p10}px; height: ${p10}px; }
QSpinBox::down-arrow, QComboBox::down-arrow { image: url($icon_down); width: ${p10}px; height: ${p10}px; }
QToolButton::menu-indicator { image: none; }
QLineEdit, QComboBox, QSpinBox, QPlainTextEdit {
    background: $paper; border: 1px solid $line_strong; border-radius: ${r4}px;
    padding: ${p4}px ${p6}px; min-height: ${h22}px; selection-background-color: $accent;
    selection-color: $on_accent;
}
QLineEdit { placeholder-text-color: $ink_soft; }
QLineEdit[refused="true"] { border: 2px solid $stop; background: $stop_soft; }
QComboBox::drop-down { border: none; width: ${h22}px; }
QComboBox QAbstractItemView { background: $paper; border: 1px solid $line_strong; selection-background-color: $accent;
    selection-color: $on_accent; }
QListView, QTableView, QTextBrowser, QGraphicsView {
    background: $paper; border: 1px solid $line; border-radius: ${r6}px; outline: none;
}
QListWidget::item { padding: ${p5}px; }
QTableView { gridline-color: $line; selection-background-color: $accent; selection-color: $on_accent; }
QTableView::item { padding: 0 ${p3}px; }
QHeaderView::section { background: $panel; color: $ink; border: none; border-bottom: 1px solid $line_strong;
    padding: ${p4}px ${p6}px; font-weight: bold; }
QTabBar::tab { background: $surface; border: 1px solid $line; border-bottom: none; padding: ${p5}px ${p10}px;
    border-top-left-radius: ${r6}px; border-top-right-radius: ${r6}px; }
QTabBar::tab:selected { background: $paper; font-weight: bold; border-color: $line_strong; }
QTabBar::tab:focus { color: $accent; }
QTabWidget::pane { border: 1px solid $line_strong; border-radius: ${r4}px; background: $panel; }
QMenu { background: $paper; border: 1px solid $line_strong; padding: ${p4}px; }
QMenu::item { padding: ${p5}px ${p20}px; border-radius: ${r4}px; }
QMenu::item:selected { background: $accent; color: $on_accent; }
QMenu::item:disabled { color: $ink_soft; }
QMenu::separator { height: 1px; background: $line; margin: ${p4}px; }
QToolTip { background: $paper; color: $ink; border: 1px solid $line_strong; padding: ${p4}px; }
QScrollArea, QScrollArea > QWidget > QWidget { border: none; background: transparent; }
QSlider { min-height: ${h34}px; }
QSlider::groove:horizontal { height: ${p6}px; background: $line; border-radius: 3px; }
QSlider::sub-page:horizontal { background: $accent; border-radius: 3px; }
QSlider::handle:horizontal { background: $paper; border: 2px solid $accent; width: ${h22}px; margin: -${p10}px 0;
    border-radius: ${r6}px; }
QSlider:focus { border: 2px solid $accent; border-radius: ${r4}px; }
QScrollBar:vertical { background: transparent; width: ${p10}px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: ${p10}px; margin: 0; }
QScrollBar::handle { background: $line_strong; border-radius: ${r4}px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QProgressBar { border: 1px solid $line_strong; border-radius: ${r4}px; background: $paper; text-align: center;
    min-height: ${h22}px; color: $ink; }
QProgressBar::chunk { background: $accent_soft; }
"""
)


def style_sheet(roles: dict[str, str], scale: float, *, icons: dict[str, str]) -> str:
    """Return the style sheet for the colours of a theme at a scale of type."""
    named = {"r": (4, 6, 8), "p": (3, 4, 5, 6, 10, 14, 20), "h": (22, 27, 32, 34), "f": (12, 16, 20)}
    sizes = {
        f"{kind}{size}": str(max(1, round(size * scale))) for kind, all_sizes in named.items() for size in all_sizes
    }
    return _SHEET.substitute(roles | sizes | icons)
