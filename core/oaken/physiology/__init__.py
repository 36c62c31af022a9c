"""What the class does to a body: oxygen demand, heart rate, training load, energy."""
