"""The background worker: takes long jobs from the queue. Start as many as wanted, on any machine."""
