"""The OpenAPI document: component schemas straight from pydantic, one problem for all errors."""

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import JsonSchemaMode, models_json_schema

from server.api import (
    bodies,
    catalogue,
    checks,
    compare,
    exercise_bodies,
    faults,
    formats,
    health,
    jobs,
    prediction_bodies,
    reasons,
    sequences,
    session,
    simulation,
    sizing,
    trace,
    versions,
)
from server.problems import ProblemBody
from wiretrace.interchange.paper import Paper
from wiretrace.patterns.choices import Choices
from wiretrace.sizing.report import SizingAnswer, SizingForm
from wiretrace.training.exercise.record import Entry
from wiretrace.transport.catalogue_data import CatalogueData
from wiretrace.transport.report import ExplanationData

TAKEN: tuple[type[BaseModel], ...] = (
    jobs.NewJob,
    jobs.Names,
    jobs.SaveCircuit,
    simulation.RunRequest,
    simulation.ReadRequest,
    simulation.MeasureRequest,
    simulation.MapRequest,
    reasons.PartingRequest,
    faults.FaultsRequest,
    reasons.ExplainRequest,
    reasons.WhyRequest,
    checks.CheckRequest,
    compare.CompareRequest,
    formats.CircuitBody,
    Choices,
    formats.TidyRequest,
    formats.ImportRequest,
    formats.DrawingRequest,
    Paper,
    sequences.NewSequence,
    sequences.SaveSequence,
    sequences.TableRequest,
    versions.NewVersion,
    trace.TraceRequest,
    trace.AdviceRequest,
    trace.SavePanel,
    prediction_bodies.NewSheet,
    prediction_bodies.NewAttempt,
    prediction_bodies.Answers,
    prediction_bodies.Ended,
    prediction_bodies.CompareState,
    prediction_bodies.PositionsRequest,
    prediction_bodies.SheetFile,
    exercise_bodies.NewExercise,
    exercise_bodies.StepRequest,
    exercise_bodies.HintRequest,
    exercise_bodies.AnswerRequest,
    exercise_bodies.After,
    sizing.SizeRequest,
    sizing.SaveSizing,
    sizing.CarryRequest,
)
GIVEN: tuple[type[BaseModel], ...] = (
    jobs.JobLine,
    jobs.JobList,
    jobs.JobBody,
    simulation.RunAnswer,
    simulation.ReadAnswer,
    simulation.MeasureAnswer,
    simulation.MapAnswer,
    reasons.PartingAnswer,
    reasons.WhyAnswer,
    faults.FaultList,
    ExplanationData,
    checks.CheckAnswer,
    compare.Differences,
    formats.Tidied,
    formats.ImportAnswer,
    sequences.SequenceList,
    SizingAnswer,
    SizingForm,
    sizing.KeptSizing,
    sizing.EarlierSizings,
    bodies.SavedVersion,
    trace.KeptPanel,
    sizing.Proposals,
    exercise_bodies.ExerciseList,
    exercise_bodies.ExerciseBody,
    Entry,
    exercise_bodies.Thought,
    exercise_bodies.Reviewed,
    sequences.SequenceBody,
    sequences.TableAnswer,
    trace.Progress,
    trace.AdviceAnswer,
    trace.Book,
    versions.VersionList,
    versions.VersionBody,
    versions.VersionData,
    prediction_bodies.SheetLine,
    prediction_bodies.SheetList,
    prediction_bodies.SheetBody,
    prediction_bodies.AttemptBody,
    prediction_bodies.AttemptList,
    prediction_bodies.Key,
    prediction_bodies.Positions,
    prediction_bodies.SheetRead,
    CatalogueData,
    catalogue.Library,
    catalogue.LibraryCircuit,
    health.Health,
    session.Session,
    ProblemBody,
)


def tidy(spec: Any) -> Any:
    """Replace the generated component schemas, and add the problem to every operation.

    Taken and given models are told apart, so that a default is optional in what is taken and
    always there in what is given.
    """
    models: list[tuple[type[BaseModel], JsonSchemaMode]] = [
        *((model, "validation") for model in TAKEN),
        *((model, "serialization") for model in GIVEN),
    ]
    _, schemas = models_json_schema(models, ref_template="#/components/schemas/{model}")
    spec["components"] = {"schemas": schemas["$defs"]}
    body = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemBody"}}}
    for path in spec["paths"].values():
        for name, operation in path.items():
            if name != "parameters":
                operation["responses"]["default"] = {"description": "A problem (RFC 9457)", "content": body}
    return spec
