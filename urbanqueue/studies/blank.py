"""The study that a new one starts as: arrive, be served, leave. It already runs."""

from flowcore.study import StudyDocument, read_study


def blank_study(name: str) -> StudyDocument:
    """Return a study of one stream, one step and one team."""
    return read_study(
        {
            "name": name,
            "case_types": [{"id": "visitors", "name": "Visitors", "colour": 1}],
            "streams": [
                {
                    "id": "arrivals",
                    "name": "Arrivals",
                    "kind": "random",
                    "gap": {"dist": "exponential", "mean": "5 min"},
                    "mix": [{"type": "visitors", "share": 1}],
                    "to": "service",
                }
            ],
            "steps": [
                {
                    "id": "service",
                    "name": "Service",
                    "kind": "serve",
                    "work": {"dist": "triangular", "low": "2 min", "mode": "4 min", "high": "6 min"},
                    "needs": [{"team": "staff"}],
                    "next": [{"to": "served"}],
                },
                {"id": "served", "name": "Served", "kind": "exit"},
            ],
            "teams": [{"id": "staff", "name": "Staff", "size": 1, "rate": 24}],
            "run": {"length": "1 wk"},
        }
    )
