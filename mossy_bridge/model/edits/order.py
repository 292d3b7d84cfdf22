"""The order of levels and regions: moving, grouping and naming."""

from collections.abc import Collection

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit, existing, set_levels
from mossy_bridge.model.flow import Flow, Region, Tint
from mossy_bridge.model.ids import id_from


def move_levels(flow: Flow, level_ids: Collection[str], before: str = "", region: str | None = None) -> Flow:
    """The flow with levels moved, in their present order, to stand before another one (or last). With
    ``region`` they join that region."""
    moved = tuple(level for level in flow.levels if level.id in level_ids)
    if not moved:
        raise CannotEdit("the levels to move are no longer there")
    if before in level_ids:  # let go on one of themselves: they stand before the next level that stays
        names = [level.id for level in flow.levels]
        if before not in names:
            raise CannotEdit("the levels to move are no longer there")
        behind = names[names.index(before) :]
        before = next((name for name in behind if name not in level_ids), "")
    rest = [level for level in flow.levels if level.id not in level_ids]
    index = next((i for i, level in enumerate(rest) if level.id == before), len(rest))
    flow = replace(flow, levels=(*rest[:index], *moved, *rest[index:]))
    if region is None or all(level.region == region for level in moved):
        return flow
    return set_levels(flow, [level.id for level in moved if level.region != region], region=region)


def add_region(flow: Flow, name: str, level_ids: Collection[str] = ()) -> tuple[Flow, str]:
    """The flow with a new region, holding the levels given, and its id."""
    new_id = id_from(name, {region.id for region in flow.regions}, "region")
    flow = replace(flow, regions=(*flow.regions, Region(id=new_id, name=name)))
    return set_levels(flow, level_ids, region=new_id), new_id


def set_region(flow: Flow, region_id: str, name: str | None = None, tint: Tint | None = None) -> Flow:
    """The flow with a region renamed or tinted."""
    if all(region.id != region_id for region in flow.regions):
        raise CannotEdit(f"there is no region “{region_id}”")

    def changed(region: Region) -> Region:
        return replace(
            region, name=region.name if name is None else name, tint=region.tint if tint is None else tint
        )  # fmt: skip

    return replace(flow, regions=tuple(changed(r) if r.id == region_id else r for r in flow.regions))


def remove_region(flow: Flow, region_id: str) -> Flow:
    """The flow without a region; its levels stay where they are, in no region."""
    members = [level.id for level in flow.levels if level.region == region_id]
    regions = tuple(region for region in flow.regions if region.id != region_id)
    if len(regions) == len(flow.regions):
        raise CannotEdit(f"there is no region “{region_id}”")
    return set_levels(replace(flow, regions=regions), members, region="")


def move_region(flow: Flow, region_id: str, before: str = "") -> Flow:
    """The flow with all levels of a region moved to stand before a level (or last), and the region moved in
    the list of regions as the levels are."""
    members = [level.id for level in flow.levels if level.region == region_id]
    flow = move_levels(flow, members, before)
    existing(flow, members[0])
    first = {level.region: index for index, level in reversed(list(enumerate(flow.levels)))}
    ordered = sorted(flow.regions, key=lambda region: first.get(region.id, len(flow.levels)))
    return replace(flow, regions=tuple(ordered))
