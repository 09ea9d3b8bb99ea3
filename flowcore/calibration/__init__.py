"""Taking parameters from recorded data: how what was observed becomes values of a study, and how sure they are."""
