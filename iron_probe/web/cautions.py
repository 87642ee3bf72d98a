"""Cautions of work that can hurt someone, said once where it is done."""

from iron_probe.web.language import N_, Worded

CAUTIONS = Worded(
    {
        "crank": N_(
            "Out of gear, brake on, stand clear of belts and fan. Prevent the start (fuel or ignition disabled) so it cranks long enough. Maker's procedure first."
        ),
        "crank_boat": N_(
            "Blower first: fuel vapour. Neutral, stand clear of propeller and belts, prevent the start. Maker's procedure first."
        ),
        "crank_blades": N_(
            "Blades, belts and power take-off disengaged, brake on, stand clear. Prevent the start. Maker's procedure first."
        ),
        "crank_track": N_(
            "Track clear of the ground or chocked, stand clear of track and belts. Prevent the start. Maker's procedure first."
        ),
        "crank_wheel": N_(
            "Out of gear or the driven wheel off the ground; stand clear of wheel and chain. Prevent the start. Maker's procedure first."
        ),
        "test_lamp": N_("Never on airbag or seat-belt circuits: a test lamp can set them off. Across a blown fuse a lamp, never a jumper."),
        "interlock": N_(
            "This tests an interlock, and the engine may crank if it has failed: blades, take-off and track disengaged, wheels clear, nobody on or under it. Never bridge one on a running machine. Maker's procedure first."
        ),
        "interlock_boat": N_(
            "This tests an interlock, and the engine may crank if it has failed: blower first, propeller or jet clear, made fast. Never bridge one on a running boat. Maker's procedure first."
        ),
        "running_blades": N_("Blades and take-off disengaged, brake on, nobody in front."),
        "running_track": N_("Track off the ground or chocked, safety lever locked, nobody beside it."),
        "running_wheel": N_("Driven wheel off the ground; hands, leads and sleeves off wheel and chain."),
        "genset": N_("Isolate the generator output and lock remote start out before working on it. Licensed work beyond the battery side."),
        "running": N_("Outdoors or with the exhaust led away; keep leads, sleeves and clamp off belts and fan."),
        "running_boat": N_(
            "Blower first: fuel vapour; hatches open. Made fast, in neutral, stand clear of propeller and belts; cooling water on."
        ),
        "charger": N_(
            "Mains and shore power are licensed work: plug in, open nothing. Ventilate, no sparks; never charge a frozen battery, nor a lithium one below 0 °C."
        ),
        "battery": N_("No sparks at the battery: hydrogen. Eye protection, rings off; negative off first and on last."),
        "load_test": N_(
            "Eye protection, vent first: hydrogen. No load on a frozen, swollen or leaking battery; clamps on before the load, load off before the clamps; fifteen seconds, then let it cool."
        ),
        "studs": N_("Isolate the battery before touching or loosening a starter stud; measuring on it needs no loosening."),
        "field": N_(
            "Seconds only, loads off, watch the volts: a forced field passes 16 V. Maker's procedure first; never on a machine with electronics that cannot be unplugged."
        ),
        "series": N_("Never crank, open doors or switch lamps on through a series meter: its fuse holds 10 A. Maker's procedure first."),
        "pull": N_("A pulled fuse can end the drain and wakes modules when it goes back. Read the total before and after."),
        "part": N_("Key off before a plug is parted; airbag plugs and orange cables are left alone."),
        "fuse": N_("Never a bigger fuse, never a wire in its place: the loom burns. Fire extinguisher at hand while provoking it."),
        "hands": N_(
            "Sleeves and fingers off belt, fan and flywheel while it turns. No wire across a fuse that has blown; a series meter holds 10 A."
        ),
        "bridge": N_(
            "In neutral, brake on, clear of moving parts: bridging the load side spins the starter. Never bridge an interlock on a running machine; take the jumper out afterwards."
        ),
    }
)
