"""The command line, a module a group of calls. The computing commands import no Qt."""

from mossy_bridge.command import files, judging, playing, window
from mossy_bridge.command.group import cli

__all__ = ["cli", "files", "judging", "playing", "window"]
