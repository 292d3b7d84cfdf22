"""How much is tried before a question is left to another method or, in the end, answered *unknown*.

None of these numbers decides an answer: they decide by which method it is found, and when that is given up. They are
one value, handed in where a survey begins and held by the program graph, so that tests can send small flows the ways
of large ones.
"""

from math import inf

from msgspec import Struct


class Limits(Struct, frozen=True, kw_only=True):
    """The limits of one survey. Shares are parts of its budget of seconds, counted from its beginning."""

    # strategy
    proofs_end: float = 0.22
    """The share after which proofs are given up, where every state may still be explored afterwards."""
    walks_end: float = 0.3
    """The share after which random walks are given up."""
    quotient_end: float = 0.4
    """The share after which exploring the quotient is given up."""
    search_end: float = 0.55
    """The share after which exploring every state is given up; what follows from so many takes about as long."""
    last_end: float = 0.95
    """The share after which anything is given up."""
    states_at_once: int = 4_000_000
    """Up to so many possible states all are explored at once, without proofs before."""
    quotient_factor: int = 2
    """So many times fewer components than locations there must be for exploring the quotient."""
    unexpanded_states: int = 20_000
    """What follows from more unexpanded states than this is not worked out one by one."""

    # explicit search
    states_one_by_one: int = 5_000
    """Up to so many states are found one at a time; beyond, whole frontiers at a time."""
    first_edges: int = 6_000
    """So many edges make a first look."""
    glance_edges: int = 150_000
    """So many edges make a glance at a small flow."""
    small_flow: int = 1_000
    """A flow with up to so many transitions is small."""
    first_portion: int = 3
    """After one part in so many of the edges it is asked whether a search spreads."""
    spreading: float = 1.1
    """A search spreads where so many times as many states are known as have been expanded."""
    explored_states: float = inf
    """The frontier search of the last resort is given up at so many states."""
    frontier_chunk: int = 1 << 13
    """So many states of a frontier are expanded at a time; between chunks the search can be stopped."""
    chunk_cells: int = 1 << 25
    """So many machine words of states and edges are held at a time, where vectors are long and edges many."""
    state_bytes: int = 1 << 29
    """Whatever the time, no more bytes than this are kept of states."""
    states_per_location: int = 200
    """From so many states of a chunk to a location on, the transitions of each location are tried by themselves."""
    direct_table_bits: int = 25
    """Up to so many bits a table has an entry for every state that there could be (128 MiB, as far as it is used)."""
    core_edges: int = 300_000
    """From so many edges on the states from which the start is reachable again are split off before Tarjan's work."""
    counting_sort: int = 300_000
    """From so many numbers on they are sorted by counting instead of comparing."""
    piece: int = 1 << 20
    """So many numbers of a long column are worked on at a time, to take little memory beside it."""
    components_here: int = 30_000
    """Up to so many nodes and edges components are found in Python; loading SciPy takes longer."""
    bits_at_once: int = 512
    """So many levels and deeds are followed together as bits, to keep the sets of a million states small."""

    # encoding
    longest_unary: int = 16
    """The widest count or choice that gets a bit for each step or value."""
    short_vector: int = 24
    """State vectors of up to so many bits are kept short by encoding choices in binary."""
    cubes: int = 24
    """A guard that takes more cubes is kept as a combination of others."""
    board_paths: int = 12
    """A tile with more paths to it is asked for by walking its board."""
    vectors_one_by_one: int = 4
    """So many vectors are tried one at a time before all are at once."""

    # random walks
    walks: int = 100
    walks_in_vain: int = 2
    """Random walks end where so many led to no state from which little is reachable."""
    walks_without_news: int = 6
    """And after so many in a row that told nothing new."""
    walk_moves: int = 2_048
    walk_first_look: int = 16
    """After so many moves a walk first looks at what is still reachable; then after twice as many each time."""
    walk_states: int = 1_500
    walk_edges: int = 10_000
    """So many states, with so many edges between them, are little enough."""

    # proofs
    antichain_moves: int = 200_000
    antichain_moves_per_transition: int = 20
    """So many moves, and so many for each transition, are made in search of the maximal states: where it takes more,
    much is not monotone, and states are better explored whole frontiers at a time."""
    lower_bound_moves: int = 500_000
    """So many moves from lower bounds are tried in search of an ending."""
    basis_elements: int = 50_000
    """The backward search for minimal bases is given up at so many elements."""
    hitting_sets: int = 64
    """More minimal hitting sets of one basis than this are not looked into."""
    deed_sets: int = 2_000
    """So many sets of deeds are tried for being those without which a tally stays too low."""
    short_traps: int = 8
    """For so many hitting sets a short route into a state that lacks them is searched for."""
    route_places: int = 40_000
    """Among more pairs of location and discrete part than this, shortest routes are not searched for."""
    route_subgoals: int = 10_000
    """So many subgoals are expanded in search of one shortest route,"""
    route_subgoals_altogether: int = 400_000
    """so many for all of them,"""
    crossing_subgoals: int = 40_000
    """and so many for all where arrivals count first, as that is asked of every level at once."""
    subgoals_per_place: int = 250
    """More incomparable subgoals with one discrete part are too many;"""
    subgoals_per_place_until_stopped: int = 10_000
    """or so many where the time alone ends the search."""
    greed: int = 2
    """Where shortest routes are too hard to find, those found may be so many times as long."""

    # tours
    tour_states: int = 30_000
    """Tours are found among up to so many states; beyond, by the routes of the survey."""
    tour_tries: int = 12
    """So many tours are made, of which the best is kept."""


LIMITS = Limits()
"""What holds where nothing else is said."""
