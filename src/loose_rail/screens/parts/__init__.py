"""The parts screen."""
