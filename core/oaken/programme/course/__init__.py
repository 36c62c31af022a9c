"""A course of weeks as a document like a plan: base classes, and by week the plan's own changes to them.

`document` is the course and its file, `weeks` turns it into dated classes and moves weeks, `outlook` is every week in
figures with what should be looked at, `templates` makes whole courses, `words` says changes in words.
"""

from oaken.programme.course.document import (
    FORMAT,
    MOST_WEEKS,
    Base,
    Course,
    CourseFile,
    Meeting,
    Pause,
    WeekChange,
    json_schema,
    read_course,
)
from oaken.programme.course.outlook import ClassOutlook, CourseNotice, CourseOutlook, WeekOutlook, outlook
from oaken.programme.course.templates import TemplateMade, template, templates
from oaken.programme.course.weeks import (
    CourseClass,
    changes_in,
    classes_of,
    drop_week,
    meets_in,
    monday_in,
    move_week,
    plan_of_week,
)
from oaken.programme.course.words import change_words

__all__ = [
    "FORMAT",
    "MOST_WEEKS",
    "Base",
    "ClassOutlook",
    "Course",
    "CourseClass",
    "CourseFile",
    "CourseNotice",
    "CourseOutlook",
    "Meeting",
    "Pause",
    "TemplateMade",
    "WeekChange",
    "WeekOutlook",
    "change_words",
    "changes_in",
    "classes_of",
    "drop_week",
    "json_schema",
    "meets_in",
    "monday_in",
    "move_week",
    "outlook",
    "plan_of_week",
    "read_course",
    "template",
    "templates",
]
