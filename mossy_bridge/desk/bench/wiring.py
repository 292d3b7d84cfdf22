"""Joins a plan's canvas to requests: what is drawn and moved by hand becomes an edit."""

from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.requests.requests import Requests


def wire_canvas(canvas: PlanCanvas, requests: Requests) -> None:
    """Lets the canvas edit the level it shows."""
    plans = requests.plans
    canvas.move_wanted.connect(lambda parts, across, along: plans.move(canvas.key, parts, across, along))
    canvas.stretch_wanted.connect(lambda part, rect: plans.stretch(canvas.key, part, rect))
    canvas.exit_drawn.connect(lambda rect: plans.draw_exit(canvas.key, rect))
    canvas.solid_drawn.connect(lambda rect: plans.draw_solid(canvas.key, rect))
    canvas.spawn_put.connect(lambda x, y: plans.put_spawn(canvas.key, x, y))
    canvas.deed_put.connect(lambda x, y: plans.put_deed(canvas.key, x, y))
    canvas.remove_wanted.connect(lambda parts: plans.remove(canvas.key, parts))
