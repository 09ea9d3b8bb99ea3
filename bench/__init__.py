"""Measurements of speed, as ratios against a plain-Python yardstick."""
