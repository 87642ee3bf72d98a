"""A whole job as one file, out of one yard and into another without loss."""
