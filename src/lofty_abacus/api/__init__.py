"""HTTP only: shapes in, shapes out, and one place that makes HTTP of errors."""
