"""Joints that are pressed, cure, and have cured."""

from __future__ import annotations

import unittest

from cozy_burrow.core.bench.glue import CURE_S, PRESS_S, Joint
from cozy_burrow.jobs.bench_words import glue_text


class Glue(unittest.TestCase):
    def test_five_minutes_to_hold_and_an_hour_to_cure(self) -> None:
        joint = Joint(name="Block", at_s=100.0)
        self.assertEqual(joint.stage(100.0), ("press", PRESS_S))
        self.assertEqual(joint.stage(399.0), ("press", 1.0))
        self.assertEqual(joint.stage(400.0), ("cure", CURE_S - PRESS_S))
        self.assertEqual(joint.stage(3701.0), ("cured", 0.0))
        self.assertIsNone(joint.stage(9999.0))

    def test_it_is_said_in_words_joint_by_joint(self) -> None:
        joints = (Joint(name="Block", at_s=0.0), Joint(name="Round", at_s=250.0))
        self.assertEqual(glue_text(joints, 310.0), "‘Block’ cures, 55 min more · ‘Round’: press 4:00 more")
        self.assertEqual(glue_text(joints, 3600.0), "‘Block’ has cured · ‘Round’ cures, 5 min more")
        self.assertEqual(glue_text(joints, 99_999.0), "")
