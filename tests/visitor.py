"""Someone signed in over HTTP, without a browser: for floods, kills and benchmarks."""

import http.cookiejar
import json
import urllib.error
import urllib.request
from datetime import datetime
from typing import Any

from uvren.simulate.club import PASSWORD


class Visitor:
    """Signed in to a running application, or, without a name, somebody who is not."""

    def __init__(self, address: str, login: str | None = "performance", password: str = PASSWORD) -> None:
        self.address, self.token = address, ""
        self.tags: dict[str, str] = {}
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.renew()
        if login is not None:
            self.ask("POST", "/api/sign-in", {"login": login, "password": password})
            self.renew()

    def renew(self) -> None:
        self.token = self.ask("GET", "/api/me")["csrf_token"]

    def ask(self, method: str, path: str, body: object = None, raw: bytes | None = None) -> Any:
        """The answer's body. Raises urllib.error.HTTPError for one that is a problem."""
        kind = "application/json" if raw is None else "application/octet-stream"
        data = raw if raw is not None else json.dumps(body).encode() if body is not None else None
        headers = {"X-CSRF-Token": self.token, "Content-Type": kind}
        request = urllib.request.Request(self.address + path, method=method, data=data, headers=headers)
        with self.opener.open(request, timeout=60) as answer:
            return json.loads(answer.read())

    def now(self) -> datetime:
        """What time it is there."""
        return datetime.fromisoformat(self.ask("GET", "/api/live/clock")["now"])

    def look(self, path: str) -> bool:
        """Asks as a browser does that keeps what it got last; whether anything new came."""
        headers = {"Accept-Encoding": "gzip"} | ({"If-None-Match": self.tags[path]} if path in self.tags else {})
        try:
            with self.opener.open(urllib.request.Request(self.address + path, headers=headers), timeout=60) as answer:
                answer.read()
                self.tags[path] = answer.headers["ETag"]
                return True
        except urllib.error.HTTPError as said:
            if said.code != 304:
                raise
            return False
