"""What is selected, shared by all bands: a level, or one of its exits, or nothing."""

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.model.flow import Exit, Flow, Level


class Selection(QObject):
    """Emits ``changed`` when another level or exit is selected. It holds ids, so it outlives edits."""

    changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.level_id = ""
        self.exit_id = ""

    def select(self, level_id: str = "", exit_id: str = "") -> None:
        """Selects a level, or one of its exits; nothing without a level."""
        if (level_id, exit_id) != (self.level_id, self.exit_id):
            self.level_id, self.exit_id = level_id, exit_id
            self.changed.emit()

    def level(self, flow: Flow) -> Level | None:
        """The selected level, if the flow still has it."""
        return flow.level(self.level_id)

    def exit(self, flow: Flow) -> Exit | None:
        """The selected exit, if the flow still has it."""
        level = self.level(flow)
        return level.exit(self.exit_id) if level and self.exit_id else None
