"""Rooms and the machine units in them."""
