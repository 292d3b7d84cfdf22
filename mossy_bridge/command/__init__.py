"""The command line, a module a group of calls. The computing commands import no Qt."""

from mossy_bridge.command import exchanging, files, judging, play_logs, playing, standing_in, versions, window
from mossy_bridge.command.group import cli

__all__ = ["cli", "exchanging", "files", "judging", "play_logs", "playing", "standing_in", "versions", "window"]
