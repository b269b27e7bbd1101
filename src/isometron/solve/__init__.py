"""From a document to a drawing: project, hide, measure, warn. Pure: no interface, no clock, no disk."""
