"""When everybody is where: rotations, the time axis, the floor, and a class with all it needs as one file."""
