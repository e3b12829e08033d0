"""The process window: priors, fit, map, setting, next cells, and a machine's own spot.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.window.band import EnergyBand
from keencoat.core.window.card_hint import CardHint, lesson_of_card
from keencoat.core.window.choose import WANTED_SHARE, SettingChoice, choose
from keencoat.core.window.door import Answer, CoatTold, Question, RatedCell, answer
from keencoat.core.window.drift import DatedRun, Drift, watch
from keencoat.core.window.figures import beyond_enough, beyond_harm
from keencoat.core.window.fit import FitStatus, WindowFit, fit_window, weighed_by_runs, with_scatter
from keencoat.core.window.focus_ladder import MeasuredHeight, beam_of_ladder, read_ladder
from keencoat.core.window.lessons import Kind, Lesson, apart_words, lesson_of, weight_words, words_of
from keencoat.core.window.map import WindowEdges, WindowMap, edges_of, map_window
from keencoat.core.window.model import MODEL_VERSION, ModelPoints, Observation, RunOutcome, observe, piece_sd, points_of
from keencoat.core.window.openers import Change, Opener
from keencoat.core.window.outlook import Outlook, outlook_of
from keencoat.core.window.peak import peak_pct, peak_words
from keencoat.core.window.places import PlaceOdds, place_odds
from keencoat.core.window.plan import (
    LEAST_CELLS,
    MOST_CELLS,
    USUAL_BUDGET,
    USUAL_LEAST_CELLS,
    Budget,
    cells_that_pay,
    fastest_first,
    next_cells,
    telling_cells,
)
from keencoat.core.window.predict import SettingOdds, clean_and_harsh, next_band, odds_of, shares
from keencoat.core.window.price import PIECE_MIN, USUAL_FILL_MM
from keencoat.core.window.priors import (
    LineHint,
    WindowPrior,
    harder_ln,
    hint_from_lines,
    lesson_of_lines,
    prior_from,
    stated_prior,
    with_lessons,
)
from keencoat.core.window.recommend import RatedSetting, Recommendation, SettingSchool, Verdict, recommend
from keencoat.core.window.scatter import MeasuredCoat, Scatter, ScatterBasis, basis_of, basis_words, coat_scatter
from keencoat.core.window.spot_lines import MeasuredLine, read_lines
from keencoat.core.window.worth import Batch, RoundWorth, worth_of

__all__ = [
    "LEAST_CELLS",
    "MODEL_VERSION",
    "MOST_CELLS",
    "PIECE_MIN",
    "USUAL_BUDGET",
    "USUAL_FILL_MM",
    "USUAL_LEAST_CELLS",
    "WANTED_SHARE",
    "Answer",
    "Batch",
    "Budget",
    "CardHint",
    "Change",
    "CoatTold",
    "DatedRun",
    "Drift",
    "EnergyBand",
    "FitStatus",
    "Kind",
    "Lesson",
    "LineHint",
    "MeasuredCoat",
    "MeasuredHeight",
    "MeasuredLine",
    "ModelPoints",
    "Observation",
    "Opener",
    "Outlook",
    "PlaceOdds",
    "Question",
    "RatedCell",
    "RatedSetting",
    "Recommendation",
    "RoundWorth",
    "RunOutcome",
    "Scatter",
    "ScatterBasis",
    "SettingChoice",
    "SettingOdds",
    "SettingSchool",
    "Verdict",
    "WindowEdges",
    "WindowFit",
    "WindowMap",
    "WindowPrior",
    "answer",
    "apart_words",
    "basis_of",
    "basis_words",
    "beam_of_ladder",
    "beyond_enough",
    "beyond_harm",
    "cells_that_pay",
    "choose",
    "clean_and_harsh",
    "coat_scatter",
    "edges_of",
    "fastest_first",
    "fit_window",
    "harder_ln",
    "hint_from_lines",
    "lesson_of",
    "lesson_of_card",
    "lesson_of_lines",
    "map_window",
    "next_band",
    "next_cells",
    "observe",
    "odds_of",
    "outlook_of",
    "peak_pct",
    "peak_words",
    "piece_sd",
    "place_odds",
    "points_of",
    "prior_from",
    "read_ladder",
    "read_lines",
    "recommend",
    "shares",
    "stated_prior",
    "telling_cells",
    "watch",
    "weighed_by_runs",
    "weight_words",
    "with_lessons",
    "with_scatter",
    "words_of",
    "worth_of",
]
