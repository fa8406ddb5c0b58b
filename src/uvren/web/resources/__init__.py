"""Resources, a module for each part of the day. Thin: parse, call a service, answer."""
