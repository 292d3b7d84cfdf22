"""The verdict on each level, for the marks on strip, map and bench."""

from collections.abc import Iterable

from mossy_bridge.checks.finding import Finding
from mossy_bridge.model.flow import Level
from mossy_bridge.reach.survey.result import Survey


class Standing:
    """The mark of every level, and of every other place with a finding; without a survey all are unknown."""

    def __init__(self, survey: Survey | None = None, findings: Iterable[Finding] = ()):
        self._survey = survey
        self._worst: dict[str, str] = {}
        rank = {"error": "broken", "warning": "suspicious"}
        for finding in findings:
            mark = rank.get(finding.severity)
            for place in finding.at[:1] if mark else ():
                for name in {place, place.partition(".")[0]}:
                    if self._worst.get(name) != "broken":
                        self._worst[name] = mark or ""

    def of_level(self, level_id: str) -> str:
        """broken, suspicious, stranded, sound or unknown."""
        if self._survey is None or level_id not in self._survey.levels:
            return "unknown"
        answer = self._survey.levels[level_id].answer
        if answer == "no":
            return "stranded"
        if answer == "unknown":
            return "unknown"
        return self._worst.get(level_id, "sound")

    def has_things(self, level_id: str) -> bool:
        """Whether anything can be said of single things of the level."""
        return level_id in self._worst

    def of_exits(self, level: Level) -> tuple[str, ...]:
        """The mark of each of the level's exits."""
        return tuple(self._worst.get(f"{level.id}.{exit_.id}", "") for exit_ in level.exits)
