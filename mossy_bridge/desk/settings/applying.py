"""Lets what is set take effect, at once and whenever it is changed."""

from collections.abc import Callable

from mossy_bridge.desk.settings.preferences import Preferences
from mossy_bridge.desk.survey.column import SurveyColumn
from mossy_bridge.desk.widgets.theme import Look


def apply_preferences(preferences: Preferences, look: Look, column: SurveyColumn) -> None:
    """Looks, sizes and motion follow the preferences."""

    def move(usual: bool) -> None:
        column.folds_by_itself = usual

    effects: dict[str, Callable[[], None]] = {
        "look": lambda: look.wear(preferences.text("look")),
        "contrast": lambda: look.use_contrast(preferences.text("contrast")),
        "text_size": lambda: look.scale_text(preferences.number("text_size")),
        "motion": lambda: move(preferences.text("motion") == "usual"),
    }
    for key, effect in effects.items():
        if preferences.value(key) != preferences.default(key):
            effect()
    preferences.changed.connect(lambda key: effects[key]() if key in effects else None)
