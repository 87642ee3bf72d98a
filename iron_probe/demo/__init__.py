"""The sample yard: Cinder Quay, an island council's fleet yard."""
