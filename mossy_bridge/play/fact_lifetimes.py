"""Which value a fact takes at the moments that end or begin something: a new run, an arrival, failing, resuming, an
ending."""

from mossy_bridge.model.flow import Fact, Flow

MOMENTS = ("a new run", "an arrival", "failing", "quitting and resuming", "an ending")


def becomes(flow: Flow, fact: Fact) -> tuple[str, ...]:
    """For each of ``MOMENTS`` what becomes of the fact, in words."""
    back = f"back to {fact.first}"
    if fact.kind == "flag":
        back = "had again" if fact.first else "not had any more"
    if fact.lifetime == "profile":
        return ("kept", "kept", "kept", "kept", "kept")
    if fact.lifetime == "visit":
        return (back, back, back, back, "—")
    resumed = {"arrival": "as at the last arrival", "deed": "as when last saved", "never": "nothing can be resumed"}
    failing = "as at the last arrival or checkpoint" if fact.rewinds else "kept"
    return (back, "kept", failing, resumed[flow.saving], "—")
