"""The API keeps to its own description, whatever is sent."""

import pytest
import schemathesis
from django.core.wsgi import get_wsgi_application
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error

from tests.urbanqueue.conftest import Api

schema = schemathesis.openapi.from_wsgi("/api/openapi.json", get_wsgi_application())


@pytest.fixture
def cookie(api: Api, study_id: int) -> str:
    return f"sessionid={api.client.cookies['sessionid'].value}"


@schema.include(path_regex="^/api/(studies|runs|session)").exclude(method="DELETE").parametrize()
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_request_breaks_the_server(case: schemathesis.Case, cookie: str) -> None:
    response = case.call(headers={"Cookie": cookie})
    case.validate_response(response, checks=[not_a_server_error])
