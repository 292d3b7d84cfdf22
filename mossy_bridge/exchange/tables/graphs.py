"""Flows as graphs: GraphML, whose nodes are levels and whose edges are exits, written and read; DOT, written."""

from collections.abc import Iterator, Mapping
from xml.etree import ElementTree

from lxml import etree

from mossy_bridge.exchange.tables.cells import CannotImport, Row, Table
from mossy_bridge.exchange.tables.exporting import EXITS, LEVELS, destination_text, exit_row, level_row
from mossy_bridge.model.flow import Flow

SPACE = "http://graphml.graphdrawing.org/xmlns"
ENDS = ("from", "to")
NOWHERE = "nowhere"
"""The node that exits lead to which lead nowhere yet."""
DESTINATION = "destination"
"""What the kind of a node says that is no level: an ending, “next” and its like, or nowhere."""
_SHAPES = {"play": "box", "screen": "component", "board": "tab"}


def graphml(flow: Flow) -> str:
    """A flow as GraphML; every attribute is text. What tables lack, this lacks."""
    root = ElementTree.Element("graphml", xmlns=SPACE)
    for kind, headings in (("node", LEVELS), ("edge", EXITS)):
        for heading in headings:
            if heading not in ENDS:
                ElementTree.SubElement(
                    root, "key", {"id": f"{kind}_{heading}", "for": kind, "attr.name": heading, "attr.type": "string"}
                )
    graph = ElementTree.SubElement(root, "graph", id="flow", edgedefault="directed")
    for level in flow.levels:
        _add(ElementTree.SubElement(graph, "node", id=level.id), "node", level_row(level))
    for name in _others(flow):
        _add(ElementTree.SubElement(graph, "node", id=name), "node", {"kind": DESTINATION})
    for level in flow.levels:
        for exit_ in level.exits:
            target = destination_text(exit_.to) or NOWHERE
            edge = ElementTree.SubElement(graph, "edge", source=level.id, target=target)
            _add(edge, "edge", exit_row(level, exit_))
    ElementTree.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="unicode") + "\n"


def _others(flow: Flow) -> list[str]:
    """The nodes that are no levels."""
    levels = {level.id for level in flow.levels}
    named = (destination_text(exit_.to) or NOWHERE for level in flow.levels for exit_ in level.exits)
    return [name for name in dict.fromkeys(named) if name not in levels]


def _add(element: ElementTree.Element, kind: str, row: Row) -> None:
    for heading, text in row.items():
        if text and heading not in ENDS:
            ElementTree.SubElement(element, "data", key=f"{kind}_{heading}").text = _allowed(text)


def _allowed(text: str) -> str:
    """Without the characters that XML cannot hold."""
    return "".join(one for one in text if one >= " " or one in "\n\t")


def tables_of_graphml(name: str, data: bytes) -> dict[str, Table]:
    """The tables of levels and exits that a GraphML file holds. Raises
    :class:`~mossy_bridge.exchange.tables.cells.CannotImport`."""
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        raise CannotImport([f"{name}, line {error.position[0]}: is no well-formed XML"]) from error
    graphs = [one for one in root.iter(etree.Element) if etree.QName(one).localname == "graph"]
    if not graphs:
        raise CannotImport([f"{name}: holds no graph; GraphML has a “graph” with “node” and “edge”"])
    if len(graphs) > 1:
        raise CannotImport([f"{name}, line {graphs[1].sourceline}: holds more than one graph, or one in another"])
    keys = {one.get("id", ""): one.get("attr.name", one.get("id", "")).lower() for one in _all(root, "key")}
    others: dict[str, str] = {}
    levels: list[Row] = []
    for node in _all(graphs[0], "node"):
        row = {"id": node.get("id", ""), **_data(node, keys)}
        if row.get("kind") == DESTINATION:
            others[row["id"]] = "" if row["id"] == NOWHERE else row["id"]
        else:
            levels.append(row)
    exits: list[Row] = []
    for edge in _all(graphs[0], "edge"):
        target = edge.get("target", "")
        exits.append({"from": edge.get("source", ""), "to": others.get(target, target), **_data(edge, keys)})
    return {"levels": _table(f"{name}, nodes", levels), "exits": _table(f"{name}, edges", exits)}


def _all(element: etree._Element, wanted: str) -> Iterator[etree._Element]:
    return (one for one in element.iter(etree.Element) if etree.QName(one).localname == wanted)


def _data(element: etree._Element, keys: Mapping[str, str]) -> dict[str, str]:
    return {keys.get(one.get("key", ""), one.get("key", "")): (one.text or "").strip() for one in _all(element, "data")}


def _table(name: str, rows: list[Row]) -> Table:
    headings = dict.fromkeys(heading for row in rows for heading in row)
    return Table(name, tuple(headings), tuple(rows))


def dot(flow: Flow) -> str:
    """A flow as a DOT graph, to be drawn by others."""
    lines = [f"digraph {_quoted(flow.title or 'flow')} {{", "  node [shape=box];"]
    for level in flow.levels:
        label = f"{level.code} {level.title}".strip()
        lines.append(f"  {_node(level.id)} [label={_quoted(label)}, shape={_SHAPES[level.kind]}];")
    lines += [f"  {_node(name)} [label={_quoted(name)}, shape=ellipse];" for name in _others(flow)]
    for level in flow.levels:
        for exit_ in level.exits:
            asked = [text for text in (exit_.trigger.when, exit_.opens) if text != "always"]
            label = "\n".join([exit_.name or exit_.id, *asked])
            target = _node(destination_text(exit_.to) or NOWHERE)
            lines.append(f"  {_node(level.id)} -> {target} [label={_quoted(label)}];")
    return "\n".join([*lines, "}"]) + "\n"


def _node(name: str) -> str:
    return _quoted(f"at {name}")  # no name of a node is a word of the language


def _quoted(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n")
    return f'"{escaped}"'
