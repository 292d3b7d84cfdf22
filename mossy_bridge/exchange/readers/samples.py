"""Sample files to point at, made of the bytes of level files."""

from itertools import islice

from msgspec.structs import replace

from mossy_bridge.exchange.readers.expressions import parsed
from mossy_bridge.level_files.pointing.sample import LONGEST_VALUE, MOST_NODES, Sample, SampleNode
from mossy_bridge.model.flow import FileForm


def sample_of(file: str, form: FileForm, data: bytes) -> Sample:
    """What there is to point at in a file; texts that are very long are cut. Raises
    :class:`~mossy_bridge.exchange.readers.forms.Damaged`."""
    nodes = [_cut(node) for node in islice(parsed(form, data).nodes(), MOST_NODES + 1)]
    return Sample(file, form, tuple(nodes[:MOST_NODES]), len(nodes) > MOST_NODES)


def _cut(node: SampleNode) -> SampleNode:
    attributes = node.attributes
    if any(len(text) > LONGEST_VALUE for text in attributes.values()):
        attributes = {name: text[:LONGEST_VALUE] for name, text in attributes.items()}
    elif len(node.text) <= LONGEST_VALUE:
        return node
    most = LONGEST_VALUE if node.kind != "line" else 10 * LONGEST_VALUE
    return replace(node, text=node.text[:most], attributes=attributes)


def form_of(start: bytes) -> FileForm:
    """The form that a file seems to have, by how it begins."""
    plain = start.lstrip(b"\xef\xbb\xbf \t\r\n")
    if plain.startswith(b"<"):
        return "xml"
    return "json" if plain.startswith((b"{", b"[")) else "text"
