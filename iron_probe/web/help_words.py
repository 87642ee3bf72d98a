"""What each page is for and how one gets on there, in a few lines: shown with its keys."""

from fastapi import Request

from iron_probe.web.language import N_, Worded

HELP: dict[str, str] = Worded(
    {
        "/": N_(
            "The yard as it stands: each berth is a job, with its leg and the next thing to do on it. What waits is drawn by when it is due; say how many minutes you have, and what fits is listed."
        ),
        "/jobs/new": N_(
            "Take a machine in: choose one of the yard, or the circuit that comes nearest, and say what it does in the owner's words. Four figures say how many there are of everything; nothing else must be filled in."
        ),
        "/jobs/{number}": N_(
            "The Bench: put the leads where the step says, or tap two points of the map, read, type, Enter. Good stands beside the field before you read. Suspects grow and shrink with each reading; a wrong one is corrected or withdrawn under Evidence."
        ),
        "/jobs/{number}/battery": N_(
            "Whether the battery can be trusted: at rest, under load, by its own tester. A weak one makes every later figure lie, so it comes first."
        ),
        "/jobs/{number}/control": N_(
            "From the key to the solenoid: the chain of contacts in order, and the one test that is due beside the part. Live or dead is enough here."
        ),
        "/jobs/{number}/charge": N_(
            "What charges, where and how much: posts, alternator or rectifier, at idle, fast and loaded. The board says which loss lies where."
        ),
        "/jobs/{number}/drain": N_(
            "What it draws asleep: latch it, lock it, wait, read the total. Then split it, biggest share first, without waking it."
        ),
        "/jobs/{number}/drain/sweep": N_(
            "Fuse by fuse as they lie in the box: millivolts over the fuse are turned into its current. Nothing is pulled that need not be."
        ),
        "/jobs/{number}/fuse": N_(
            "A fuse that blows: say in which states it does, and the ways it may hang together are narrowed. Never a larger fuse to see what burns."
        ),
        "/jobs/{number}/captures": N_(
            "Records of a scope or logger, as CSV: bring one in, say what its columns are, and it is read as a crank, a drain or a fuse."
        ),
        "/jobs/{number}/repair": N_(
            "What was found, what was done, and the retest that proves it. Readings before a repair belong to the machine as it was."
        ),
        "/jobs/{number}/report": N_(
            "Two pages: one the customer understands, one with every reading. The job is closed here; print it, or give it by a link that can be ended."
        ),
        "/jobs/{number}/intake": N_("What was said when it was taken in. Change it here; what was measured is never changed."),
        "/jobs/{number}/practice": N_(
            "How a practice case goes, what its marks are, and step by step what the engine would have done. What was hidden is told once the job is closed."
        ),
        "/jobs/{number}/meters": N_(
            "Meters that send what they show: take one here, set it, zero it, have it recorded or watch the drain. On every page of the job it stands at the foot: Log puts its figure into the step."
        ),
        "/meters": N_(
            "The yard's meters that send their figures, and how another joins: an agent on the machine it hangs on, with the yard's key."
        ),
        "/practice/lessons": N_("Eight short lessons in rising order, each ending in a case of the bay."),
        "/practice/lessons/{lesson}": N_(
            "Set a fault with its knob, choose the state, put the leads somewhere: the circuit is solved at once. Dashed is the sound machine. Then work the case."
        ),
        "/machines": N_(
            "The yard's machines with their circuits. Compose one by a few answers, bring a drawing in, or open one to see its jobs and how its figures went over the years."
        ),
        "/machines/{number}": N_(
            "One machine: its drawing and battery, its jobs, its figures over the years, and what to confirm on it. Edit its circuit on the Workbench."
        ),
        "/compose": N_(
            "A circuit out of a few answers: each takes one key, and the map grows beside it. What is not answered is assumed, and the engine knows it."
        ),
        "/machines/{number}/workbench": N_(
            "The feed list: one line a part, from where to where. Mistakes stand beside the line; the map is drawn anew at each change; nothing is kept until you keep it."
        ),
        "/history": N_("Jobs of all years by words, part, person, kind of machine and day; and what was found on a kind, how often."),
        "/practice": N_(
            "Machines with a hidden fault, for whoever wants to learn or keep in practice. The real screens, a stand-in meter, and marks at the end."
        ),
        "/people": N_("Who may sign in, and as what: a technician works, a viewer looks, a lead does this too."),
        "/audit": N_("Every line of every log and what was done to accounts: who, when it was taken, when it was entered."),
        "/yard": N_("How the yard's reports are headed, and whether new jobs go by what this yard has found."),
    }
)
"""By the route of the page."""


def help_of(request: Request) -> str:
    """The help of the page that is shown; empty where it has none."""
    return HELP.get(getattr(request.scope.get("route"), "path", ""), "")
