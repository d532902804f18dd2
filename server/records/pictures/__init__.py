"""Photographs of a job: taken in safely, straightened, laid on the plane of a part."""
