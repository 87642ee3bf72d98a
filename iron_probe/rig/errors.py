"""What can go wrong with the rig."""


class RigError(Exception):
    """The rig cannot do what was asked: the text says what, and what to do."""
