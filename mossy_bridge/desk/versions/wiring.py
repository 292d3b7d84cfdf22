"""What other versions and the rest of the window tell each other."""

from collections.abc import Callable, Sequence

from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.session.file_commands import Files
from mossy_bridge.desk.strip.strip import Strip
from mossy_bridge.desk.versions.merging import VersionMerging
from mossy_bridge.desk.versions.other_version import OtherVersion


def wire_versions(
    other: OtherVersion, merging: VersionMerging, files: Files, map_view: MapView, strip: Strip,
    plans: Sequence[PlanCanvas], show_face: Callable[[], object], show_place: Callable[[str], object],
) -> None:  # fmt: skip
    """Connects them: what differs is marked on map, strip and plans."""

    def mark() -> None:
        map_view.different.show(other.levels)
        strip.show_different(other.levels)
        for plan in plans:
            plan.hold_beside(other.flow if other.name else None)

    other.changed.connect(mark)
    other.begun.connect(show_face)
    merging.begun.connect(show_face)
    other.place_wanted.connect(lambda level, thing: show_place(f"{level}.{thing}"))
    files.compare_wanted.connect(other.hold)
