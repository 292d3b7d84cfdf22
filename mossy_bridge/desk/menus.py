"""The table of all actions."""

from typing import TYPE_CHECKING

from mossy_bridge.desk.actions import Action

if TYPE_CHECKING:
    from mossy_bridge.desk.window import Window


def action_table(window: "Window") -> list[Action]:
    """Every action of the window, menu by menu."""
    return [*_file(window), *_edit(window), *_level(window), *_view(window), *_help(window)]


def _file(w: "Window") -> list[Action]:
    files = w.files
    return [
        Action("&File", "new", "&New flow", "Ctrl+N", "Begin an empty flow", files.new),
        Action("&File", "open", "&Open…", "Ctrl+O", "Open a flow file", files.open),
        Action("&File", "save", "&Save", "Ctrl+S", "Save the flow", files.save, apart=True),
        Action("&File", "save_as", "Save &as…", "Ctrl+Shift+S", "Save under another name", files.save_as),
        Action("&File", "quit", "&Quit", "Ctrl+Q", "Close the program", w.close, apart=True),
    ]


def _edit(w: "Window") -> list[Action]:
    document = w.document
    return [
        Action("&Edit", "undo", lambda: f"&Undo {document.undo_name}".strip(), "Ctrl+Z", "Take the last step back",
               document.undo, lambda: bool(document.undo_name)),
        Action("&Edit", "redo", lambda: f"&Redo {document.redo_name}".strip(), "Ctrl+Shift+Z",
               "Make the step again", document.redo, lambda: bool(document.redo_name)),
        Action("&Edit", "remove", lambda: "Remo&ve exit" if w.selection.exit_id else "Remo&ve level", "Del",
               "Remove what is selected", w.requests.remove, lambda: bool(w.selection.level_id), apart=True),
    ]  # fmt: skip


def _level(w: "Window") -> list[Action]:
    def chosen() -> bool:
        return w.selection.level(w.document.flow) is not None

    return [
        Action("&Level", "new_level", "&New level", "Ctrl+Shift+N", "Add a level behind the selected one",
               w.requests.new_level),
        Action("&Level", "new_exit", "New &exit", "Ctrl+E", "Add an exit to the selected level",
               w.requests.new_exit, chosen),
        Action("&Level", "start_here", "&Start the game here", "Ctrl+Shift+H", "The game starts at this level",
               w.requests.start_here, chosen),
        Action("&Level", "rename", "&Rename", "F2", "Change the name of the selected level",
               lambda: _rename(w), chosen, apart=True),
        Action("&Level", "next_level", "Ne&xt in order", "Alt+Right", "Step to the next level of the order",
               lambda: w.strip.step(1), apart=True),
        Action("&Level", "previous_level", "&Previous in order", "Alt+Left",
               "Step to the previous level of the order", lambda: w.strip.step(-1)),
    ]  # fmt: skip


def _rename(w: "Window") -> None:
    w.selection.select(w.selection.level_id)
    w.bench.level.name.setFocus()
    w.bench.level.name.selectAll()


def _view(w: "Window") -> list[Action]:
    look = w.look
    return [
        Action("&View", "fit", "&Whole map", "Ctrl+0", "Show the whole map", w.map.fit),
        Action("&View", "closer", "&Closer", "Ctrl++", "Zoom in", lambda: w.map.zoom(1.25)),
        Action("&View", "further", "&Further away", "Ctrl+-", "Zoom out", lambda: w.map.zoom(0.8)),
        Action("&View", "survey", "&Survey column", "F9", "Fold the survey column", w.fold_survey,
               checked=lambda: not w.survey_column.isHidden(), apart=True),
        Action("&View", "light", "&Light", "Ctrl+Alt+1", "Light colours", lambda: look.wear("light"),
               checked=lambda: look.wish == "light", apart=True),
        Action("&View", "dark", "&Dark", "Ctrl+Alt+2", "Dark colours", lambda: look.wear("dark"),
               checked=lambda: look.wish == "dark"),
        Action("&View", "desktop", "As the des&ktop", "Ctrl+Alt+3", "Light or dark as the desktop is",
               lambda: look.wear("desktop"), checked=lambda: look.wish == "desktop"),
    ]  # fmt: skip


def _help(w: "Window") -> list[Action]:
    return [
        Action("&Help", "demo", "Open the &demo: Tidewick", "Ctrl+Alt+D", "A flow in which all is well",
               w.files.open_demo),
        Action("&Help", "unfinished", "Open the &unfinished demo", "Ctrl+Alt+U", "The same flow, with faults to find",
               lambda: w.files.open_demo("tidewick_unfinished")),
        Action("&Help", "help", "&How to go about it", "F1", "The first steps, and the keys", w.help, apart=True),
        Action("&Help", "about", "&About Mossy Bridge", "Shift+F1", "What this program is", w.about),
    ]  # fmt: skip


def help_text(table: list[Action]) -> str:
    """The first steps, and the key of every action."""
    steps = (
        "Drag from a door on the map to a level, or to a spawn point in it, to lead the exit there.\n"
        "Click a level or a bridge to see it on the bench; click a blank of its sentence to pick something else.\n"
        "The survey on the right says what is wrong; Repair mends it in one step that Ctrl+Z takes back.\n"
        "Drag the ground of the map to move it, turn the wheel to come closer; arrow keys step over the cards."
    )
    keys = "\n".join(f"{entry.keys}:  {entry.tip}" for entry in table)
    return f"{steps}\n\n{keys}"
