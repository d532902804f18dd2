"""Serve on loopback with waitress: `python -m server.demo.serve PORT`."""

import sys

from waitress import serve

from server.config.wsgi import application

if __name__ == "__main__":
    serve(
        application,
        host="127.0.0.1",
        port=int(sys.argv[1]),
        threads=16,  # an instrument watched holds one
        ident=None,
        max_request_body_size=40_000_000,
    )
