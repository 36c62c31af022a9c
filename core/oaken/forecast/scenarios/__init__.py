"""For the doubtful: the same class in other circumstances, side by side."""

from oaken.forecast.scenarios.scenarios import Scenario, ScenarioBlock, Scenarios, scenarios_of

__all__ = ["Scenario", "ScenarioBlock", "Scenarios", "scenarios_of"]
