"""A sheet from answers about a machine: kinds, blocks, sizes, feeds, and what of it is only assumed."""
