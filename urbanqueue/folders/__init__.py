"""The whole folder of a study: packed for passing on everything, and unpacked to a study again."""
