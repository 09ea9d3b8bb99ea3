"""The web application around flowcore: people, studies, runs."""
