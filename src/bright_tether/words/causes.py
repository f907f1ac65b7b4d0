"""Why something has no value, or cannot be done, in one sentence each."""

from __future__ import annotations

from bright_tether.core.line.errors import NoErrors
from bright_tether.core.results import (
    Cause,
    ConstantColumn,
    EveryRow,
    NegativeWeight,
    OutOfRange,
    Refusal,
    TooFewPairs,
)
from bright_tether.core.strength.row_by_row import TooManyPairs
from bright_tether.live.all_rows import AllHere, NotInWhole
from bright_tether.live.basis import BeyondPictures
from bright_tether.live.comparison import NoOtherLine, NotCombined, NothingCompared
from bright_tether.live.findings import NothingTied, NotNumbers
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.words.digits import entered, figure, grouped

_CAUSES = {
    Cause.ALIKE_REPEATS: "the repeats at each x are alike, so there is no scatter of theirs to hold it against",
    Cause.NOTHING_LEFT: "nothing is left over to divide it by, so it has no bound",
    Cause.EXACT_FIT: "every pair lies on the line, so all residuals are zero and there is nothing to judge it by",
    Cause.PERFECT_CORRELATION: "the coefficient is exactly 1 in size, so nothing is left over for its test to rest on",
    Cause.CONSTANT_Y: "y does not vary",
    Cause.TOO_FEW_PAIRS: "there are too few pairs for it",
    Cause.NO_DEGREES_OF_FREEDOM: "there are so few pairs that no degrees of freedom are left for it",
    Cause.LEVERAGE_ONE: "one row alone decides the line there (its leverage is 1)",
    Cause.OUT_OF_RANGE: "its value lies beyond what double precision can hold",
    Cause.NO_PAIRS: "there are no pairs",
    Cause.CONSTANT_X: "x does not vary",
    Cause.TIES: "there are ties, and the exact distribution is one without",
    Cause.TOO_MANY_FOR_EXACT: "there are too many pairs to go through every order",
    Cause.NO_INTERCEPT: "a line through the origin has none",
    Cause.NO_REPEATS: "no x occurs twice, so there is no pure scatter to compare with",
    Cause.ONE_SIDED_SIGNS: "all residuals have one sign",
    Cause.SIZE_OUTSIDE: "it is defined for 3 to 5000 rows",
    Cause.TOO_FEW_CLUSTERS: "its rows are all of one case, and errors by case need two cases or more",
    Cause.SLOPE_UNCLEAR: "the slope is not clearly different from 0, so no x is singled out by a y",
    Cause.NOT_TWO_GROUPS: "it compares two groups that each have a line",
    Cause.TOO_MANY_GROUPS: "there are more than 60 groups",
    Cause.NO_TURN: "it is told for the plain line, and only where the bent line turns round",
    Cause.NOT_POOLED: "one pooled variance is taken for slopes alone, and by classical errors",
    Cause.UNITS_DIFFER: "the two lines are in different units, and these are not subtracted",
    Cause.ALIKE_SQUARES: "all residuals are alike in size, so there is no spread of them to explain",
    Cause.WEIGHT_UNSTATED: "the weight of a new case is not stated",
    Cause.PATTERN_OUTSIDE: "the pattern gives no weight there",
    Cause.TOO_FEW_CASES: "there are too few cases for it",
    Cause.ONE_CASE_CARRIES: "without one of the cases it has no value",
    Cause.CASES_UNLIKE: "no two cases have equally many rows, so none can change places",
    Cause.MIDDLE_ONE_VALUE: "most values of a column are one and the same, so its middle has no width",
    Cause.TOO_MANY_ROWS: "there are too many rows to draw them again and again",
    Cause.BY_RANKS: "the interval for one case is by the ranks of residuals, which have no error of their own",
    Cause.RANKS_TOO_FEW: "ranks need more rows at this level: 19 for 95 %, 99 for 99 %",
    Cause.RANKS_NO_END: "by the ranks of residuals it has no end here",
    Cause.RANKS_ONE_CASE: "ranks tell of one case, not of the mean of several",
    Cause.RANKS_OF_CASES: "several rows are of one case, so that their ranks promise nothing for a new one",
    Cause.NARROW_WINDOW: "too few rows lie within so narrow a bandwidth; a wider one would do",
    Cause.EVERY_ROW: "it needs every row at once, and here only sums over them are at hand",
    Cause.TOO_FEW_VALUES: "x takes too few different values for it",
}


def cause(code: Cause | None) -> str:
    """The sentence for a cause, without its full stop."""
    return "it has no value here" if code is None else _CAUSES[code]


def refusal(found: Refusal, x: str = "x", y: str = "y") -> str:
    """Why there is no line, and what to do about it."""
    if isinstance(found, TooFewPairs):
        have = {0: "no pair is", 1: "only 1 pair is"}.get(found.found, f"only {found.found} pairs are")
        return (
            f"A line needs at least {found.needed} pairs, and {have} in play: add rows, or bring some back."
        )
    if isinstance(found, ConstantColumn):
        value = entered(found.value)
        return (
            f"Every {x} is {value}, so no line can be fitted: "
            f"{x} must take at least two values for {y} to depend on."
        )
    if isinstance(found, NotNumbers):
        return f"The column “{found.name}” holds no numbers: choose a column of numbers for each axis."
    if isinstance(found, BeyondPictures):
        return (
            f"“{found.name}” holds a value of size {figure(found.largest, 3)}, which no picture can show: "
            "blank it if it stands for no value, or give the column in another unit."
        )
    if isinstance(found, NothingTied):
        return "Choose a column for x and one for y: drag their heads onto the axes."
    if isinstance(found, TooManyPairs):
        return (
            f"{grouped(found.found)} pairs are too many to list every comparison: "
            f"up to {grouped(found.most)} are listed, and the counts above stand for all of them."
        )
    if isinstance(found, NoErrors):
        return f"The errors in force have no value here: {cause(found.cause)}. Choose other errors."
    if isinstance(found, NothingCompared):
        return "Choose what to compare with: the groups of a column, a second response, or another tether."
    if isinstance(found, NoOtherLine):
        return f"“{found.name}” has no line to compare with. {refusal(found.why)}"
    if isinstance(found, NotCombined):
        return (
            "Lines with weights or through the origin are not compared here: "
            "take the plain line, or look at each line by itself."
        )
    if isinstance(found, NegativeWeight):
        return (
            f"The weight in row {found.row} is {entered(found.value)}: weights must be 0 or more; "
            "mend it or choose another column."
        )
    if isinstance(found, NotInWhole):
        return (
            f"The whole table has no column “{found.name}”: it was worked out or renamed here. Choose a column as the "
            "file has it to look at all rows."
        )
    if isinstance(found, AllHere):
        return "This table is no share of a larger one: every figure rests on all its rows already."
    if isinstance(found, EveryRow):
        return "This needs every row at once, and here only sums over them are at hand: take a share of the rows."
    if isinstance(found, OutOfRange):
        return "The line lies beyond what double precision can hold: give x or y in a larger unit."
    raise TypeError(found)


def said_of(error: object) -> str:
    """What kept a file from being written: as the writer says it, where it refuses what it was asked for."""
    return str(error) if isinstance(error, ValueError) else unwritten(error)


def unwritten(error: object) -> str:
    """What kept something from being written, in a few words."""
    if isinstance(error, OSError):
        return error.strerror or "the place does not take it"
    return f"an error of this program, {type(error).__name__}; please report it"


def unreadable(found: UnreadableFile) -> str:
    """Why a file gives no table, and what to do about it."""
    name, detail = f"“{found.name}”", found.detail
    match found.trouble:
        case Trouble.NOT_FOUND:
            return f"There is no file {name}: check the name and the folder."
        case Trouble.DIRECTORY:
            return f"{name} is a folder: choose a file inside it."
        case Trouble.NOT_ALLOWED:
            return f"{name} cannot be read ({detail['said']}): check that you may open it."
        case Trouble.EMPTY:
            return f"{name} is empty: choose a file with a header row and at least three rows of numbers."
        case Trouble.NOT_TEXT:
            line = detail["line"]
            return f"{name} is not text in UTF-8 (line {line}): save it as CSV in UTF-8 and open it again."
        case Trouble.ONE_COLUMN:
            return f"{name} has only one column: a tether needs two, set apart by commas, semicolons or tabs."
        case Trouble.RAGGED:
            return (
                f"{name} is ragged: line {detail['line']} has {detail['found']} cells "
                f"where the first has {detail['wanted']}; mend that line and open it again."
            )
        case Trouble.NO_ROWS:
            return f"{name} has a header but no rows below it: add at least three rows."
        case Trouble.NO_NUMBERS:
            return f"{name} holds no column of numbers: a tether needs two."
        case Trouble.DAMAGED:
            return f"{name} is damaged or not what its name says: write it again from where it came."
        case Trouble.NOT_RECORDS:
            return f"{name} holds no list of records: a list of objects with the same names is needed."
        case Trouble.TOO_LARGE:
            return f"{name} would unpack to more than this program takes in; it was left closed."
        case Trouble.TOO_MANY_COLUMNS:
            there, most = grouped(int(str(detail["found"]))), grouped(int(str(detail["most"])))
            return f"{name} has {there} columns: up to {most} are taken in; keep those that you need."
        case Trouble.LONG_HEAD:
            return (
                f"The name of column {detail['column']} in {name} has {detail['found']} characters: "
                f"up to {detail['most']} are taken in; check its separator and its first row."
            )
        case Trouble.LONG_CELL:
            return f"{name} has a cell in line {detail['line']} that is too long: check its quotes there."
        case Trouble.TOO_NEW:
            return f"{name} was written by a newer version (layout {detail['found']}): open it with that one."
        case Trouble.NO_TABLES:
            return f"{name} is a database without a table: choose another."
        case Trouble.SEVERAL_FILES:
            return f"{name} holds {detail['found']} files: unpack it, and open those that you need together."
        case Trouble.NEEDS_DUCKDB:
            return f"{name} needs the package duckdb: install it, or write Parquet or CSV that fits here."
        case Trouble.NOT_FAR:
            return (
                f"{name} cannot be gone through where it is: give Parquet files or a folder of them, CSV, or a DuckDB "
                "database."
            )
        case Trouble.MEMORY_SHORT:
            return f"{name} needs more memory than there is for it: close what else is open, or give it more."
        case Trouble.NEEDS_DASK:
            return (
                f"{name} is to be gone through by a cluster, which needs the package distributed: install it."
            )
        case Trouble.NO_SCHEDULER:
            return f"No Dask scheduler answers at {name}: start one, or give its address as tcp://host:8786."
        case Trouble.WORKERS_LOST:
            return f"The workers of {name} came to no end with the table: look at what they say, and start them anew."
        case Trouble.NOT_IN_PARTS:
            return f"{name} is no table of Parquet files: a cluster goes through a folder of them, or through one."
        case Trouble.NOT_A_STUDY:
            return f"{name} is not a study or a data package: choose a *.tether file or a table."
