"""The levels that a level names: what checks of it may look at."""

from mossy_bridge.language.asked import asked_by, conditions_of_level
from mossy_bridge.model.flow import Level
from mossy_bridge.model.level_links import led_to_by


def named_by(level: Level) -> set[str]:
    """The levels that a level names by exits, tiles and conditions, and as what it was copied from."""
    asked = asked_by(conditions_of_level(level))
    return {*led_to_by(level), *asked.seen, *asked.done, level.copied_from} - {"", level.id}
