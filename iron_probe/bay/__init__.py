"""The practice bay: a machine of the rig with a fault hidden in it, worked as a real one is."""
