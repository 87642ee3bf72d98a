"""Instruments that send what they show: what they measure, what is held and caught of it."""
