"""Speed as ratios in one run; no part of the tests."""
