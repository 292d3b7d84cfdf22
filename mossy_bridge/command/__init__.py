"""The command line, a module a group of calls. The computing commands import no Qt."""

from mossy_bridge.command import exchanging, files, judging, playing, standing_in, window
from mossy_bridge.command.group import cli

__all__ = ["cli", "exchanging", "files", "judging", "playing", "standing_in", "window"]
