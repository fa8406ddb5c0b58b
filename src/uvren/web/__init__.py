"""The web application: parse, call a service, answer."""
