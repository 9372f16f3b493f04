"""Books: how they are bound, what they are dressed in, and all their pages laid out from a pile of photos."""
