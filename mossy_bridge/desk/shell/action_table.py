"""The table of all actions."""

from collections.abc import Callable
from functools import partial
from typing import cast

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.faces.faces import face_key
from mossy_bridge.desk.handbook.pages import KEYS
from mossy_bridge.desk.sentences.popups import Choice, Picker
from mossy_bridge.desk.shell import commands
from mossy_bridge.desk.shell.actions import Action
from mossy_bridge.desk.shell.desk_parts import DeskParts
from mossy_bridge.model.edits.templates import ABOUT, TEMPLATES, Template

CHOOSE = "Select a level first."


def action_table(window: DeskParts) -> list[Action]:
    """Every action of the window, menu by menu."""
    return [*_file(window), *_edit(window), *_level(window), *_walk(window), *_view(window), *_help(window)]


def _file(w: DeskParts) -> list[Action]:
    files = w.files
    return [
        Action("&File", "new", "&New flow…", "Ctrl+N", "Begin with a small flow of the kind your game is", files.new),
        Action("&File", "new_from_folder", "New flow from a &folder…", "Ctrl+Alt+N", "Make levels of level files",
               files.new_from_folder),
        Action("&File", "import", "&Import tables or a graph…", "Ctrl+Alt+I",
               "Make a flow of a table of crossings, of exported tables, or of GraphML", w.exchange.import_tables),
        Action("&File", "open", "&Open…", "Ctrl+O", "Open a flow file", files.open),
        Action("&File", "save", "&Save", "Ctrl+S", "Save the flow", files.save, apart=True),
        Action("&File", "save_as", "Save &as…", "Ctrl+Shift+S", "Save under another name", files.save_as),
        Action("&File", "export", "&Export…", "Ctrl+Alt+T",
               "Write the flow as tables, a graph or a picture of its map, or for the game to read", w.exchange.export),
        Action("&File", "print", "&Print…", "Ctrl+P", "Print a report: the map, every level, all that is to be known",
               w.reports.print, lambda: bool(w.document.flow.levels), needs="The flow has no level yet."),
        Action("&File", "versions", "Earlier &versions…", "Ctrl+Alt+V", "See what was saved before, and bring it back",
               files.go_back, lambda: files.has_versions, needs="The flow has not been saved yet."),
        Action("&File", "compare", "&Compare with…", "Ctrl+Alt+C", "What another version of the flow has otherwise",
               w.other_version.choose, lambda: bool(w.document.flow.levels), needs="The flow has no level yet."),
        Action("&File", "merge", "&Bring together with…", "Ctrl+Alt+B",
               "Take over what another version has changed since the one that both came from",
               w.merging.choose, lambda: bool(w.document.flow.levels), needs="The flow has no level yet."),
        Action("&File", "look_again", "&Look again at level files", "F5", "Compare the files on disk with the flow's",
               w.look_again, apart=True),
        Action("&File", "make_reader", "Make a &reader of level files…", "Ctrl+Alt+F",
               "Point at exits, spawn points and walls in a level file, and have them read in all", w.readers.make),
        Action("&File", "play_logs", "Add &play logs…", "Ctrl+Alt+L", "Hold what testers played against the flow",
               w.play_test_commands.add, lambda: bool(w.document.flow.levels), needs="The flow has no level yet."),
        Action("&File", "listen", lambda: "Stop &listening" if w.play_test_commands.is_listening else
               "&Listen to a game…", "Ctrl+Alt+H", "Follow a game while it is played",
               w.play_test_commands.listen_or_stop, lambda: bool(w.document.flow.levels),
               needs="The flow has no level yet."),
        Action("&File", "close", "&Close", "Ctrl+W", "Close this window", w.close, apart=True),
        Action("&File", "quit", "&Quit", "Ctrl+Q", "Close all windows", QApplication.closeAllWindows),
    ]  # fmt: skip


def _edit(w: DeskParts) -> list[Action]:
    document, selection = w.document, w.selection

    def anything() -> bool:
        return selection.level(document.flow) is not None

    return [
        Action("&Edit", "undo", lambda: f"&Undo {document.undo_name}".strip(), "Ctrl+Z", "Take the last step back",
               document.undo, lambda: bool(document.undo_name), needs="Nothing has been done yet."),
        Action("&Edit", "redo", lambda: f"&Redo {document.redo_name}".strip(), "Ctrl+Shift+Z",
               "Make the step again", document.redo, lambda: bool(document.redo_name),
               needs="Nothing has been taken back."),
        Action("&Edit", "cut", "Cu&t", "Ctrl+X", "Copy what is selected, and remove it", w.clipboard.cut, anything,
               apart=True, needs=CHOOSE),
        Action("&Edit", "copy", "&Copy", "Ctrl+C", "Copy levels, exits, spawn points, deeds or solids",
               w.clipboard.copy, anything, needs=CHOOSE),
        Action("&Edit", "paste", "&Paste", "Ctrl+V", "Paste behind the level, or into it", w.clipboard.paste),
        Action("&Edit", "duplicate", "&Duplicate", "Ctrl+D", "Copy a level behind itself, or a thing beside itself",
               w.clipboard.duplicate, anything, needs=CHOOSE),
        Action("&Edit", "remove", lambda: f"Remo&ve {_selected_words(w)}", "Del", "Remove what is selected",
               w.requests.remove, anything, needs=CHOOSE),
        Action("&Edit", "find", "&Find…", "Ctrl+F", "Find anything by name, code, id or file",
               partial(commands.find, w), apart=True),
        Action("&Edit", "settings", "&Settings…", "Ctrl+,", "Colours, text size, motion, editor and the rest",
               lambda: w.person.settings(w.preferences), apart=True),
    ]  # fmt: skip


def _selected_words(w: DeskParts) -> str:
    selection = w.selection
    if selection.exit_id:
        return "exit"
    if len(selection.now.crossings) > 1:
        return "exits"
    if selection.parts:
        return "things" if len(selection.parts) > 1 else "thing"
    return "levels" if len(selection.levels) > 1 else "level"


def _level(w: DeskParts) -> list[Action]:
    levels = w.requests.levels

    def chosen() -> bool:
        return w.selection.level(w.document.flow) is not None

    def placed() -> bool:
        return w.selection.level_id in w.document.flow.map

    return [
        *_new_levels(w),
        *_things(w),
        Action("&Level", "insert", "&Insert a level into the crossing", "Ctrl+Shift+I",
               "Put a new level between where the selected exit is and where it leads", levels.insert_in_crossing,
               lambda: bool(w.selection.exit_id), needs="Select an exit first."),
        Action("&Level", "join", "&Join there and back…", "Ctrl+J",
               "Join two levels with a door and a spawn point in each",
               partial(commands.join, w), chosen, needs=CHOOSE),
        Action("&Level", "plan", "Lay out the &plan", "Ctrl+L", "The plan of the level in the full middle",
               w.navigation.toggle_plan, chosen, needs=CHOOSE),
        Action("&Level", "open_file", "Open its &file", "Ctrl+Shift+O", "Open the file of the level in your editor",
               w.editor.open, lambda: w.editor.can_open,
               needs="Select a level with a file; the flow must have been saved."),
        *_starts(w, chosen),
        Action("&Level", "fade_everywhere", "Give every crossing a fad&e", "Ctrl+Alt+Q",
               "A plain fade for every crossing that has no transition yet", w.requests.transitions.fade_everywhere,
               lambda: bool(w.document.flow.levels), needs="The flow has no level yet."),
        Action("&Level", "rename", "&Rename", "F2", "Change the name of the selected level",
               lambda: _rename(w), chosen, apart=True, needs=CHOOSE),
        Action("&Level", "region_new", "New re&gion of these…", "Ctrl+G", "Group the selected levels",
               partial(commands.new_region, w),
               chosen, needs=CHOOSE),
        Action("&Level", "renumber", "Ren&umber its region…", "Ctrl+Alt+G", "Count the codes of its region anew, or of "
               "the levels without one", lambda: _renumber(w), chosen, needs=CHOOSE),
        Action("&Level", "let_go", "Let the &map place it", "Ctrl+Alt+M", "Take back that its card was moved by hand",
               lambda: levels.let_card_go(w.selection.level_id), placed,
               needs="Only of a card that was moved by hand."),
        Action("&Level", "next_level", "Ne&xt in order", "Alt+Right", "Step to the next level of the order",
               lambda: w.strip.step(1), apart=True),
        Action("&Level", "previous_level", "Pre&vious in order", "Alt+Left",
               "Step to the previous level of the order", lambda: w.strip.step(-1)),
        Action("&Level", "move_left", "Move &earlier", "Ctrl+Alt+Left", "Move the selected levels one place earlier",
               lambda: levels.step(-1), chosen, needs=CHOOSE),
        Action("&Level", "move_right", "Move &later", "Ctrl+Alt+Right", "Move the selected levels one place later",
               lambda: levels.step(1), chosen, needs=CHOOSE),
    ]  # fmt: skip


def _new_levels(w: DeskParts) -> list[Action]:
    levels = w.requests.levels
    return [
        Action("&Level", "new_level", "&New level here", "Ctrl+Shift+N", "Add a level behind the selected one",
               levels.new),
        Action("&Level", "new_screen", "New &screen here", "Ctrl+Shift+T", "Add a title, result or retry screen",
               lambda: levels.new(kind="screen")),
        Action("&Level", "new_board", "New &board here", "Ctrl+Shift+B", "Add a level-select page",
               lambda: levels.new(kind="board")),
        Action("&Level", "usual_screen", "One of the &usual screens…", "Ctrl+Shift+U",
               "A title, pause, retry, level-done or credits screen, or a page of worlds, with its exits and ways in",
               lambda: _usual_screen(w)),
    ]  # fmt: skip


def _starts(w: DeskParts, chosen: Callable[[], bool]) -> list[Action]:
    return [
        Action("&Level", "start_here", "Start the &game here", "Ctrl+Shift+H", "The game starts at this level",
               w.requests.levels.start_here, chosen, needs=CHOOSE),
        Action("&Level", "test_here", "Start here for &testing", "Ctrl+Alt+J",
               "The game starts at this level for the time being; where it starts is kept for delivery",
               lambda: w.requests.upkeep.start_for_testing(w.selection.level_id), chosen, needs=CHOOSE),
    ]  # fmt: skip


def _things(w: DeskParts) -> list[Action]:
    """What a level can be given, with or without a plan."""
    plans = w.requests.plans

    def chosen() -> bool:
        return w.selection.level(w.document.flow) is not None

    return [
        Action("&Level", "new_exit", "New &exit", "Ctrl+E", "Add an exit to the selected level",
               w.requests.crossings.new, chosen, apart=True, needs=CHOOSE),
        Action("&Level", "new_spawn", "New s&pawn point", "Ctrl+Alt+P", "A place where the player can appear",
               lambda: plans.new_spawn(w.selection.level_id), chosen, needs=CHOOSE),
        Action("&Level", "new_deed", "New &deed", "Ctrl+Alt+E", "Something the player can do that the game remembers",
               lambda: plans.new_deed(w.selection.level_id), chosen, needs=CHOOSE),
        Action("&Level", "new_fact", "New &fact…", "Ctrl+Alt+A", "Something more that the game remembers",
               lambda: _named(w, "New fact", "What does the game remember? For instance: rope, or oil flasks",
                              w.requests.facts.add)),
        Action("&Level", "new_ending", "New en&ding…", "Ctrl+Alt+Y", "A way the game can end",
               lambda: _named(w, "New ending", "What is it called?", w.requests.levels.new_ending)),
        Action("&Level", "new_item", "New check&list item…", "Ctrl+Alt+X", "Something every level must have",
               lambda: _named(w, "New checklist item", "What must every level have?", w.requests.upkeep.add_item)),
        Action("&Level", "new_zone", "New &zone…", "Ctrl+Alt+Z", "A part of the level that can be walked freely",
               lambda: _new_zone(w), chosen, needs=CHOOSE),
        Action("&Level", "new_solid", "New s&olid", "Ctrl+Alt+O", "Ground or a wall on the level's plan",
               lambda: plans.new_solid(w.selection.level_id), chosen, needs=CHOOSE),
    ]  # fmt: skip


def _named(w: DeskParts, title: str, question: str, make: Callable[[str], object]) -> None:
    """Makes something by a name that is asked for."""
    name = w.person.ask(title, question)
    if name:
        make(name)


def _new_zone(w: DeskParts) -> None:
    level = w.selection.level_id
    _named(w, "New zone", "What is it called?", lambda name: w.requests.plans.new_zone(level, name))


def _renumber(w: DeskParts) -> None:
    level = w.document.flow.level(w.selection.level_id)
    if level is None:
        return
    region = next((r.name or r.id for r in w.document.flow.regions if r.id == level.region), "")
    whose = region or "the levels without a region"
    text = w.person.ask("Renumber", f"The first code of {whose} (such as 2-1); the others follow")
    if text:
        w.requests.levels.renumber(level.region, text)


def _usual_screen(w: DeskParts) -> None:
    """Lets one pick which."""
    choices = [Choice(template, f"{template.capitalize()}: {ABOUT[template]}") for template in TEMPLATES]
    picker = Picker(w.widget, choices, "")
    picker.resize(460, picker.height())
    picker.picked.connect(lambda name: w.requests.levels.add_screen(cast(Template, name)))
    picker.open_at(w.faces.mapToGlobal(QPoint(w.faces.width() // 2 - 230, 8)))


def _rename(w: DeskParts) -> None:
    w.navigation.close_plan()
    w.selection.select(w.selection.level_id)
    w.bench.level.name.setFocus()
    w.bench.level.name.selectAll()


def _walk(w: DeskParts) -> list[Action]:
    walking = w.walking

    def chosen() -> bool:
        return w.document.flow.level(w.selection.level_id) is not None

    def under_way() -> bool:
        return walking.trial is not None

    return [
        Action("&Walk", "walk", lambda: "&Leave the walk" if under_way() else "Trial &walk from the start", "F6",
               "Play the flow move by move", w.walk_or_leave, lambda: bool(w.document.flow.levels),
               needs="The flow has no level yet."),
        Action("&Walk", "walk_here", "Start &here, by the shortest route", "Shift+F6",
               "A trial walk from the selected level, with what the shortest route brings", walking.begin_here, chosen,
               apart=True, needs=CHOOSE),
        Action("&Walk", "walk_full", "Start here with the &fullest record", "Ctrl+F6",
               "With as much as some playthrough brings", lambda: walking.begin_here("fullest"), chosen, needs=CHOOSE),
        Action("&Walk", "walk_poor", "Start here with the &poorest record", "Ctrl+Shift+F6",
               "With as little as some playthrough brings", lambda: walking.begin_here("poorest"), chosen,
               needs=CHOOSE),
        Action("&Walk", "walk_with", "Start here &with…", "Ctrl+Alt+F6",
               "With a condition that holds there, if any playthrough arrives so", walking.begin_with, chosen,
               needs=CHOOSE),
        Action("&Walk", "walk_keep", "&Keep as a recorded walk…", "Ctrl+Alt+K", "Every survey then walks it again",
               walking.keep, lambda: bool(walking.trial and walking.trial.can_be_kept), apart=True,
               needs="Only in a trial walk with moves, and no quitting among them."),
        Action("&Walk", "stand_in", "Play it in the &stand-in", "F7",
               "A small game that plays the flow as it ships, in a window of its own", w.stand_in.play,
               lambda: bool(w.document.flow.levels), apart=True, needs="The flow has no level yet."),
    ]  # fmt: skip


def _view(w: DeskParts) -> list[Action]:
    look, set_look = w.look, partial(w.preferences.set, "look")
    faces = [
        Action("&View", f"face_{index}", button.text(), face_key(index), f"The face {button.text()}",
               partial(_turn, w, index), checked=partial(_is_face, w, index))
        for index, button in enumerate(w.faces.buttons)
    ]  # fmt: skip
    return [
        *faces,
        Action("&View", "next_face", "Ne&xt face", "Ctrl+Tab", "The next view on the bar",
               lambda: _step_face(w, 1), apart=True),
        Action("&View", "previous_face", "Previous &face", "Ctrl+Shift+Tab", "The view before on the bar",
               lambda: _step_face(w, -1)),
        Action("&View", "fit", "&Whole map", "Ctrl+0", "Show the whole map, or the whole plan", lambda: _fit(w),
               apart=True),
        Action("&View", "closer", "&Closer", "Ctrl++", "Zoom in", lambda: _zoom(w, 1.25)),
        Action("&View", "further", "&Further away", "Ctrl+-", "Zoom out", lambda: _zoom(w, 0.8)),
        Action("&View", "collapse", lambda: "&Open regions" if w.strip.is_collapsed else "&Fold regions", "Ctrl+Alt+R",
               "Fold the regions of the strip, or open them", lambda: w.strip.collapse(not w.strip.is_collapsed)),
        Action("&View", "lay_over", "Play-tests &over the map", "Ctrl+Alt+W",
               "Lay over map and plans what play-tests show: use and time, use and failures, nothing",
               w.play_test_commands.lay_over, lambda: w.play_test_commands.has_sessions, needs="Add play logs first."),
        Action("&View", "survey", "&Survey column", "F9", "Fold the survey column", partial(commands.fold_survey, w),
               checked=lambda: not w.survey_column.is_folded, apart=True),
        Action("&View", "outline", "&Outline", "Shift+F9", "The view that has the keyboard as a list of lines",
               w.outline.toggle),
        Action("&View", "next_finding", "&Next finding", "F8", "Point at the next finding, and show its place",
               lambda: w.survey_column.step(1)),
        Action("&View", "previous_finding", "&Previous finding", "Shift+F8",
               "Point at the finding before, and show its place", lambda: w.survey_column.step(-1)),
        Action("&View", "next_change", "Next c&hange", "F4", "Show the next difference to the other version",
               w.other_version.show_next, lambda: bool(w.other_version.changes),
               needs="Compare with another version first."),
        Action("&View", "light", "&Light", "Ctrl+Alt+1", "Light colours", lambda: set_look("light"),
               checked=lambda: look.wish == "light", apart=True),
        Action("&View", "dark", "&Dark", "Ctrl+Alt+2", "Dark colours", lambda: set_look("dark"),
               checked=lambda: look.wish == "dark"),
        Action("&View", "desktop", "As the des&ktop", "Ctrl+Alt+3", "Light or dark as the desktop is",
               lambda: set_look("desktop"), checked=lambda: look.wish == "desktop"),
    ]  # fmt: skip


def _turn(w: DeskParts, index: int) -> None:
    w.navigation.close_plan()
    w.faces.turn(index)


def _step_face(w: DeskParts, by: int) -> None:
    w.navigation.close_plan()
    w.faces.step(by)


def _is_face(w: DeskParts, index: int) -> bool:
    return w.faces.index == index


def _fit(w: DeskParts) -> None:
    w.plan.canvas.fit() if w.navigation.is_plan_open else w.map.fit()


def _zoom(w: DeskParts, factor: float) -> None:
    w.plan.canvas.zoom(factor) if w.navigation.is_plan_open else w.map.zoom(factor)


def _help(w: DeskParts) -> list[Action]:
    return [
        Action("&Help", "first_steps", "&First steps", "Ctrl+Alt+S", "Seven steps on the demo that show how it works",
               w.begin_first_steps),
        Action("&Help", "demo", "Open the &demo: Tidewick", "Ctrl+Alt+D", "A flow in which all is well",
               w.files.open_demo),
        Action("&Help", "unfinished", "Open the &unfinished demo", "Ctrl+Alt+U", "The same flow, with faults to find",
               lambda: w.files.open_demo("tidewick_unfinished")),
        Action("&Help", "help", "&Handbook", "F1", "The page on what has the keyboard",
               w.handbook_beside.help, apart=True),
        Action("&Help", "keys", "&Keys", "Ctrl+F1", "Every action and its key", lambda: w.handbook_beside.open(KEYS)),
        Action("&Help", "do", "&Do…", "Ctrl+Space", "Find any action by its name", w.open_do_box),
        Action("&Help", "what_happened", "&What happened…", "Ctrl+Shift+F1",
               "What the program has noted of its own doings, to copy",
               partial(commands.tell_happenings, w), lambda: w.kept_in is not None,
               needs="Nothing is noted here."),
        Action("&Help", "about", "&About Mossy Bridge", "Shift+F1", "What this program is", partial(commands.about, w)),
    ]  # fmt: skip
