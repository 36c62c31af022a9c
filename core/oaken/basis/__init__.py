"""What every room stands on: faults, limits, estimates with their methods, and texts from elsewhere."""
