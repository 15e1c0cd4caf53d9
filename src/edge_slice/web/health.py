"""How a server is: for whoever watches over it. `/healthz` tells a proxy whether to send anybody here, `/metrics` what
it did, as Prometheus reads it."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator

from flask import Flask, Response, g, jsonify, request
from prometheus_client import CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.core import GaugeMetricFamily, Metric
from prometheus_client.registry import Collector
from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError

from edge_slice.app.people.rights import InInstallation
from edge_slice.core.memory import MEMORY
from edge_slice.store.database import engine, schema_known, schema_there
from edge_slice.web.access import needs

FORMAT = "text/plain; version=0.0.4; charset=utf-8"  # of what Prometheus reads
BUCKETS = (0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30)
ALIVE = 20  # seconds since a worker was heard of
_WORKERS = text(f"SELECT count(*) FROM procrastinate_workers WHERE last_heartbeat > now() - interval '{ALIVE} seconds'")
_JOBS = text("SELECT queue_name, status::text, count(*) FROM procrastinate_jobs GROUP BY 1, 2")


class _Now(Collector):
    """What is asked for when it is read: memory by shelf, jobs by queue, workers."""

    def collect(self) -> Iterator[Metric]:
        kept = GaugeMetricFamily("edge_slice_kept_bytes", "Kept in memory to answer sooner", labels=["what"])
        for one in MEMORY.figures():
            kept.add_metric([one.name], one.size)
        yield kept
        jobs = GaugeMetricFamily("edge_slice_jobs", "Jobs of the queue", labels=["queue", "state"])
        workers = GaugeMetricFamily("edge_slice_workers", "Workers that are heard of")
        with engine().connect() as link:
            for queue, state, count in link.execute(_JOBS):
                jobs.add_metric([queue, state], count)
            workers.add_metric([], link.execute(_WORKERS).scalar_one())
        yield jobs
        yield workers


def watched(server: Flask) -> None:
    """Count what this process of a server answers, and tell how it is."""
    registry = CollectorRegistry()
    registry.register(_Now())
    answers = Counter("edge_slice_answers", "Answers", ["route", "method", "status", "process"], registry=registry)
    took = Histogram(
        "edge_slice_answer_seconds", "How long answers took", ["route", "process"], buckets=BUCKETS, registry=registry
    )  # fmt: skip

    @server.before_request
    def began() -> None:
        g.began = time.perf_counter()

    @server.after_request
    def ended(response: Response) -> Response:
        route = request.url_rule.rule if request.url_rule else "none"
        process = str(os.getpid())  # each process counts for itself, and one of them is asked
        answers.labels(route, request.method, str(response.status_code), process).inc()
        if (since := g.get("began")) is not None:
            took.labels(route, process).observe(time.perf_counter() - since)
        return response

    @needs(InInstallation.ANYBODY)
    def health() -> tuple[Response, int]:
        try:
            there, known = schema_there(), schema_known()
        except SQLAlchemyError:
            return jsonify({"database": False, "schema": False}), 503
        return jsonify({"database": True, "schema": there == known}), 200 if there == known else 503

    @needs(InInstallation.RUN)
    def metrics() -> Response:
        return Response(generate_latest(registry), mimetype=None, content_type=FORMAT)

    # for what watches, not for programs that use the API: not in its document
    server.add_url_rule("/healthz", view_func=health)
    server.add_url_rule("/metrics", view_func=metrics)
