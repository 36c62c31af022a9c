"""What really happened: classes that were held, who came, what belts recorded, what was read before the start."""
