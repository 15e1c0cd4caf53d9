"""A stand-in for the service where an office keeps its accounts (OpenID Connect), which can be made to lie."""

from __future__ import annotations

import hashlib
import json
import threading
import time
from base64 import urlsafe_b64encode
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, parse_qsl, urlencode, urlsplit

from joserfc import jwt
from joserfc.jwk import RSAKey

CLIENT, SECRET = "edge-slice", "a secret of the office"


class OfficeService:
    """`who`: the claims of whoever comes next; `lies`: claims that are said in place of the right ones; `key`: by which
    they are signed."""

    def __init__(self) -> None:
        self.key, self.other_key = (RSAKey.generate_key(2048, auto_kid=True) for _ in range(2))
        self.who: dict[str, Any] = {}
        self.lies: dict[str, Any] = {}
        self.signed_by = self.key
        self.asked: dict[str, dict[str, str]] = {}  # what was asked for, by code
        service = self

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                service.answer(self, urlsplit(self.path).path, dict(parse_qsl(urlsplit(self.path).query)))

            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers["Content-Length"])).decode()
                service.answer(self, self.path, {k: v[0] for k, v in parse_qs(body).items()})

            def log_message(self, format: str, *args: Any) -> None:
                pass

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.issuer = f"http://127.0.0.1:{self.server.server_port}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def stop(self) -> None:
        self.server.shutdown()

    def answer(self, handler: BaseHTTPRequestHandler, path: str, said: dict[str, str]) -> None:
        if path == "/authorize":
            code = f"code-{len(self.asked)}"
            self.asked[code] = said
            handler.send_response(302)
            handler.send_header(
                "Location", f"{said['redirect_uri']}?{urlencode({'code': code, 'state': said['state']})}"
            )
            handler.end_headers()
            return
        status, document = self._document(path, said)
        handler.send_response(status)
        handler.send_header("Content-Type", "application/json")
        handler.end_headers()
        handler.wfile.write(json.dumps(document).encode())

    def _document(self, path: str, said: dict[str, str]) -> tuple[int, dict[str, Any]]:
        if path == "/.well-known/openid-configuration":
            return 200, {
                "issuer": self.issuer, "authorization_endpoint": f"{self.issuer}/authorize",
                "token_endpoint": f"{self.issuer}/token", "jwks_uri": f"{self.issuer}/keys",
            }  # fmt: skip
        if path == "/keys":
            return 200, {"keys": [self.key.as_dict(private=False)]}
        asked = self.asked.pop(said["code"], None)
        challenge = urlsafe_b64encode(hashlib.sha256(said["code_verifier"].encode()).digest()).rstrip(b"=").decode()
        if asked is None or asked["code_challenge"] != challenge:
            return 400, {"error": "invalid_grant"}
        now = int(time.time())
        claims = {"iss": self.issuer, "aud": CLIENT, "iat": now, "exp": now + 60, "nonce": asked["nonce"]}
        claims = {k: v for k, v in {**claims, **self.who, **self.lies}.items() if v is not None}
        signed = jwt.encode({"alg": "RS256", "kid": self.key.kid}, claims, self.signed_by)
        return 200, {"access_token": "of no use", "token_type": "Bearer", "id_token": signed}
