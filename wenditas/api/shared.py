"""What the routers share: the services of the application."""

from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from wenditas.app.services import Services


def _services(connection: HTTPConnection) -> Services:
    services: Services = connection.app.state.services
    return services


Shared = Annotated[Services, Depends(_services)]
