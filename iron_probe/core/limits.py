"""Every allowance and factor by which readings are judged and tests are weighed, once: its value, unit, meaning and source.

A `Limit` is its value: it goes into formulas as the number it is. Figures of parts (resistances, spreads, tables by rating) stand with
the elements they belong to, in `core/circuit`; how wide the engine's likelihoods are stands with them. docs/method/limits.md is made
from here.
"""

COMMON = "common practice, no source"
CHOSEN = "chosen here"
PHYSICS = "physics"
SHEETS = "datasheets, from memory"
BCI = "BCI battery test practice, from memory"
EN_50342 = "EN 50342-1, from memory"
IEEE_450 = "IEEE 450, from memory"
ISO_8820 = "ISO 8820-3, from memory"
ISO_11898 = "ISO 11898-2, from memory"
ISO_17987 = "ISO 17987-4, from memory"


class Limit(float):
    """A figure with its `unit`, what it `says`, and its `source`."""

    unit: str
    says: str
    source: str

    def __new__(cls, value: float, unit: str, says: str, source: str) -> "Limit":
        """The value as a float, with what belongs to it."""
        made = super().__new__(cls, value)
        made.unit, made.says, made.source = unit, says, source
        return made


# Battery
REST_SURFACE_HOURS = Limit(12.0, "h", "charged or driven within so long, a rest voltage flatters until it is bled off", COMMON)
REST_BLEED_MINUTES = Limit(2.0, "min", "headlamps on for so long bleed the surface charge off", COMMON)
REST_BLEED_PAUSE_MINUTES = Limit(5.0, "min", "then so long a rest before the figure is taken", COMMON)
REST_READ_V = Limit(0.03, "V", "what meter, temperature and table leave open in a rest voltage of one 12 V block", COMMON)
CELL_LOST_SHARE = Limit(0.75, "of a cell's volts", "so far under full at rest, after a full charge, a cell is lost", CHOSEN)
REST_SERIES_APART_V = Limit(
    0.15, "V", "two blocks in series further apart than this at rest are one battery no more (0.1 to 0.2 V)", COMMON
)
REST_LEAST_V = Limit(1.0, "V", "a rest voltage of a 12 V block under this cannot be: a wrong range", CHOSEN)
REST_MOST_V = Limit(16.0, "V", "over this it cannot be: a charger still connected", CHOSEN)
RETEST_CHARGE = Limit(0.75, "share", "under this charge no load or capacity test judges a battery: charge first", BCI)
CONDUCTANCE_GOOD_SHARE = Limit(0.8, "of rating", "from this share of its rating a charged battery counts as good", COMMON)
CONDUCTANCE_WEAK_SHARE = Limit(0.6, "of rating", "under this it is worn out", COMMON)
RESISTANCE_GOOD = Limit(1.4, "times expected", "internal resistance up to which it is good", COMMON)
RESISTANCE_BAD = Limit(2.0, "times expected", "internal resistance from which it is bad", COMMON)
LOAD_TEST_S = Limit(15.0, "s", "how long the load is held", BCI)
LOAD_TEST_SHARE = Limit(0.5, "of CCA", "the load, as a share of the cold cranking amps", BCI)
LOAD_TEST_WITHIN = Limit(0.15, "share", "the load may stray so far from it before the limit no longer belongs to it", COMMON)
CRANKING_GOOD_V = Limit(10.0, "V", "posts of a 12 V battery while turning: not under this on a sound machine", COMMON)
CRANKING_LOW_V = Limit(9.6, "V", "under this: flat, weak, a dead cell, or too much draw", COMMON)
POST_TO_CLAMP_V = Limit(0.1, "V", "post to clamp in the same crank", COMMON)
CRANKING_NAMES_SHARE = Limit(0.4, "share", "whoever has this share of what is missing is named", CHOSEN)
CAPACITY_RATED_H = Limit(20.0, "h", "the discharge time amp-hours are rated at", EN_50342)
CAPACITY_AMPS_SHARE = Limit(0.04, "share", "what a clamp or lamp watts leave open in the current", COMMON)
CAPACITY_GOOD_SHARE = Limit(0.8, "of rating", "share of the rated amp-hours that counts as good", IEEE_450)
CAPACITY_BAD_SHARE = Limit(0.5, "of rating", "under this it is bad", COMMON)
CAPACITY_FLOOR_V = Limit(10.5, "V", "end of discharge of a 12 V lead-acid block", EN_50342)
CHARGER_BULK_SHARE = Limit(0.8, "of charge", "up to this charge the charger gives its full current; above it tapers", COMMON)
CHARGED_REST_HOURS = Limit(2.0, "h", "rest after charging before the figure is taken, unless it is bled", COMMON)
CAPACITY_WARM_DEGC = Limit(25.0, "°C", "amp-hours are rated at this temperature", EN_50342)
CAPACITY_LOST_PER_K = Limit(0.006, "of capacity a kelvin", "capacity lost below 25 °C by lead-acid", SHEETS)
SELF_DISCHARGE_PER_DAY = Limit(0.001, "of capacity a day", "what standing alone takes at 20 °C", SHEETS)
EMPTY_CHARGE = Limit(0.2, "of charge", "a battery that starts no engine counts as empty from here: lamps go dim and it takes harm", COMMON)

# Drops
NO_CURRENT_V = Limit(0.002, "V", "a drop under this on a whole side while the starter should turn: no current flows", CHOSEN)
RECONCILE_V = Limit(
    0.03, "V", "least difference between the parts and the whole worth telling: two readings of 10 mV and a joint's spread", CHOSEN
)
RECONCILE_SHARE = Limit(0.12, "of the whole", "difference that cranks of one battery explain", COMMON)
RETEST_CHANGE_V = Limit(0.02, "V", "readings of one joint in two cranks differ by this without anything having changed", COMMON)
RETEST_CHANGE_SHARE = Limit(0.15, "of the earlier", "the same as a share", COMMON)
TREND_POSTS_V = Limit(
    0.3, "V of 12", "the posts of one machine differ by this from job to job, cranking or charging, without anything worn", CHOSEN
)
TREND_DRAW_A = Limit(0.005, "A", "the draw of a sleeping machine differs by this from job to job", CHOSEN)
ALIKE_DEGC = Limit(10.0, "K", "cranks this far apart in temperature are not held against each other", CHOSEN)
SLOW_CRANK_SHARE = Limit(0.75, "of the sheet's speed", "under this a crank counts as slow", COMMON)
CRANKING_LEAST_A = Limit(15.0, "A", "a starter draws more than this, nothing else on a clamp while cranking starts does", COMMON)

# Charging
NOT_CHARGING_V = Limit(13.0, "V", "posts of a 12 V system under this with the engine running: not charging", COMMON)
OVERCHARGE_V = Limit(15.0, "V", "over this: overcharge", COMMON)
CHARGING_BAND_DEGC = Limit(20.0, "°C", "temperature the charging band belongs to", COMMON)
LEAST_OUTPUT_SHARE = Limit(0.25, "of full output", "a drop taken under this output is scaled from too little to judge", COMMON)
FILLS_A = Limit(5.0, "A", "a clamp at the battery that shows more, engine running, sees a flat one filled, or loads emptying it", COMMON)
DIODE_RIPPLE_V = Limit(0.5, "V peak to peak", "ripple across the battery that means a diode", COMMON)
DEFAULT_WITHIN_V = Limit(0.25, "V", "posts this near to the default voltage look like it", CHOSEN)
SOURCE_MOVED_V = Limit(0.15, "V", "a source that moved more than this between two readings forbids subtracting them", COMMON)
ONE_MOMENT_S = Limit(120.0, "s", "readings further apart are not one moment", CHOSEN)
CHARGE_GIVEN_BACK_SHARE = Limit(0.85, "of amp-hours put in", "what lead-acid gives back while driving", COMMON)
TOTAL_LOSS_SHARE = Limit(0.5, "of charge", "what may go before a battery no longer starts the engine", COMMON)
PAIRS_APART_OHM_SHARE = Limit(0.2, "of their mean", "ohms of stator pairs further apart are not equal", COMMON)
PAIRS_APART_V_SHARE = Limit(0.1, "of their mean", "AC volts of stator pairs further apart are not equal", COMMON)
DELTA_OPEN_RATIO = Limit(1.6, "times the others", "an open delta winding reads 2R against R; from this ratio it is called so", PHYSICS)
STATOR_RPM_APART_SHARE = Limit(0.5, "of the state's speed", "AC volts are brought to a state's speed over at most this", CHOSEN)
WINDING_GROUND_OHM = Limit(100000.0, "Ω", "under this to ground a winding touches its core (infinite when sound)", COMMON)
DIODE_SHORT_V = Limit(0.1, "V", "both ways under this on a diode tester: shorted", COMMON)

# Lines and modules
RECESSIVE_SHARE = Limit(0.8, "of supply", "a one-wire line is recessive over this", ISO_17987)
DOMINANT_SHARE = Limit(0.2, "of supply", "and dominant under this", ISO_17987)
SWING_MISSING_SHARE = Limit(
    0.25, "of supply", "a swing short by more than this is called short: resistance in the line or a poor ground", COMMON
)
MODULE_GROUND_V = Limit(0.1, "V", "drop at a module's ground, awake", COMMON)
MODULE_FEED_V = Limit(0.5, "V", "drop in a module's feed, awake", COMMON)
LINE_PAIR_OHM = Limit(60.0, "Ω", "two 120 Ω ends in parallel, key off and asleep", ISO_11898)
COMMANDED_RISE_SHARE = Limit(0.4, "of system volts", "a coil end that rises by this when commanded is the commanded one", CHOSEN)
TERMINAL_LIVE_SHARE = Limit(0.75, "of system volts", "from this a switch terminal counts as live", COMMON)
TERMINAL_DEAD_SHARE = Limit(0.25, "of system volts", "under this as dead", COMMON)
CONTACT_DROP_V = Limit(0.1, "V", "most a small closed contact loses in a 12 V system", COMMON)
OHMS_APART_SHARE = Limit(0.3, "of the drawing's", "ohms of a coil within this are its own", COMMON)
CONTACT_CLOSED_OHM = Limit(5.0, "Ω", "most of a closed contact with the plug off", COMMON)
BEEP_OHM = Limit(30.0, "Ω", "a hand meter beeps up to about this", COMMON)
CONTACT_OPEN_OHM = Limit(10000.0, "Ω", "least of an open one", COMMON)

# Readings asked about before they are logged
IMPLAUSIBLE_SUPPLY_SHARE = Limit(
    1.6, "of system volts", "over this no source of the machine reaches: a slip, or volts from outside", CHOSEN
)
LEADS_SWAPPED_SHARE = Limit(0.3, "of system volts", "so many volts of the wrong sign are leads the other way round", CHOSEN)
IMPLAUSIBLE_CRANK_SHARE = Limit(2.0, "of CCA", "more amperes than this no battery gives into a starter", COMMON)
IMPLAUSIBLE_SLEEP_A = Limit(20.0, "A", "a parked machine that takes more is flat within hours", COMMON)
LEAST_SLEEP_A = Limit(0.001, "A", "the last digit of a low-current clamp", COMMON)

# Drain
METER_STEP_V = Limit(1e-4, "V", "last digit of a hand meter on millivolts", COMMON)
METER_FUSE_A = Limit(10.0, "A", "fuse of a hand meter's ampere range", COMMON)
SMALL_AH = Limit(35.0, "Ah", "a machine with a battery under this is a small one: powersports, mowers", COMMON)
WAKING_INRUSH = Limit(3.0, "times awake", "what a machine that goes back to sleep through a meter takes for a moment", COMMON)
SMALL_LIMIT_MA = Limit(4.0, "mA", "sleeping draw a small machine may have beside what its drawn modules take", COMMON)
NO_SLEEPER_A = Limit(10.0, "A", "nothing asleep or falling asleep takes so much: something is on, stuck or shorted", COMMON)
CLAMP_ZERO_A = Limit(0.003, "A", "where a low-current clamp's zero wanders; zero it often", COMMON)
LOW_CLAMP_SHARE = Limit(0.04, "of reading", "what a low-current clamp may be off", COMMON)
SERIES_METER_SHARE = Limit(0.01, "of reading", "what a hand meter in series may be off", COMMON)
SOUND_DRAW_A = Limit(0.0005, "A", "a sound draw is known to within this at the least", CHOSEN)
SOUND_DRAW_SHARE = Limit(0.4, "of usual", "sound modules asleep differ by this", COMMON)
EXPLAINS_WITHIN = Limit(1.6, "times as long", "a cause explains a complaint within this: nobody saw the moment it went flat", CHOSEN)
LONG_LOG_S = Limit(3600.0, "s", "a total that stayed normal for less rules nothing out (an hour and more, then days)", COMMON)
DIODE_LEAK_A = Limit(0.5, "A", "what leaking diodes of a charging machine take, by order of magnitude", COMMON)
STEADY_S = Limit(300.0, "s", "a level that lasts this long is steady", COMMON)
AWAKE_SHARE = Limit(0.5, "of sleep level", "over the sleep level by this share, and the amperes below, a machine is awake", CHOSEN)
AWAKE_A = Limit(0.005, "A", "and by this", CHOSEN)
STEP_MATCH_SHARE = Limit(0.2, "of the step", "a step this near a consumer's own change may be that consumer's", CHOSEN)
STEP_MATCH_A = Limit(0.004, "A", "or this near", CHOSEN)
TIMER_SHARE = Limit(0.2, "of spacing", "wakes whose spacing varies by less come on a timer", CHOSEN)
DRAIN_NAMED_SHARE = Limit(
    0.06, "of excess", "a consumer is named when what it must draw over one and a half times its usual is this much", CHOSEN
)
DRAIN_HIDDEN_SHARE = Limit(
    0.35, "of excess", "a fuse is pulled where a last digit of its millivolts hides more of the excess than this", CHOSEN
)
LEAST_EXCESS_A = Limit(0.008, "A", "excess under this is nobody's", CHOSEN)
SUM_CLOSES_SHARE = Limit(0.1, "of total", "the sum closes when what is found comes this near (fuses spread by as much)", CHOSEN)
SAME_LEVEL_SHARE = Limit(0.2, "of total", "totals this near each other are the same level", CHOSEN)
SAME_LEVEL_A = Limit(0.006, "A", "and this near: a clamp's zero creeps by a few mA", COMMON)
TOTAL_FRESH_S = Limit(900.0, "s", "a total further from a reading says nothing of its moment", COMMON)
DRAIN_PRESENT_SHARE = Limit(0.5, "of excess", "a branch that shows this was read while the drain was there", CHOSEN)

# Fuses
FUSE_HOLDS = Limit(1.1, "times rating", "a fuse holds this for 100 h: more is not behind it for long", ISO_8820)
FUSE_OPENS = Limit(1.35, "times rating", "and must open within 600 s at this", ISO_8820)
POINT_LIVE_SHARE = Limit(0.5, "of system volts", "a point over this is live", COMMON)
OVERLOAD_UP_TO = Limit(2.5, "times rating", "under this a blown fuse is too much load", COMMON)
SHORT_FROM = Limit(5.0, "times rating", "over this a short; between, either", COMMON)
FUSE_OPEN_SHARE = Limit(0.5, "of volts before", "a fuse has opened when the volts behind it stay under this", CHOSEN)
LAST_BEFORE_OPENING_S = Limit(0.05, "s", "stretch before the opening in which a branch's current is read", CHOSEN)
BRANCH_CLEARED_SHARE = Limit(0.05, "of rating", "a branch that rises by less is cleared in one shot", CHOSEN)
BRANCH_RAN_AWAY = Limit(3.0, "times the next", "the runaway branch rises by so much, else none is named", CHOSEN)

# What a test costs
READ_MINUTES = Limit(0.3, "min", "setting the leads and reading, beside getting at the points", COMMON)
PART_MINUTES = Limit(1.0, "min", "parting a plug and reading on its pins, beside getting at it", COMMON)
LAMP_MINUTES = Limit(0.6, "min", "clipping a lamp across a fuse, beside getting there", COMMON)
NEW_FUSE_MINUTES = Limit(1.5, "min", "fitting a new fuse and trying it once, beside getting there", COMMON)
LOAD_TEST_MINUTES = Limit(2.5, "min", "a load tester on the posts, its fifteen seconds and reading it, beside getting there", COMMON)
NIB_MINUTES = Limit(0.15, "min", "two probes on a fuse, beside getting there", COMMON)
PULL_MINUTES = Limit(0.7, "min", "pulling and refitting a fuse", COMMON)
CLAMP_MINUTES = Limit(0.4, "min", "closing a clamp", COMMON)
OPENING_MINUTES = Limit(5.0, "min", "opening a circuit between two points to try an access", COMMON)

# Meters
METER_INPUT_OHM = Limit(10000000.0, "Ω", "input of a voltmeter, which loads what it reads", COMMON)
FLOATING_OHM = Limit(1000000.0, "Ω", "a point with more behind it hangs free: the meter may show a ghost", COMMON)
CHARGES_V = Limit(13.0, "V", "posts of a 12 V system from which it is said to charge", COMMON)
