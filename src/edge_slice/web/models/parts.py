"""Routes of the parts that a project's model is put together from, and of its materials."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field, RootModel

from edge_slice.app.documents import RowId
from edge_slice.app.models import imports, materials, parts
from edge_slice.app.models.import_documents import ImportOut
from edge_slice.app.models.materials import MaterialPictureOut, MaterialsOut, TriedOut
from edge_slice.app.models.part_documents import FileNames, NamedFile, PartChoice, PartEdit, PartOut, PlacePicture
from edge_slice.app.models.revision_documents import RevisionTaken
from edge_slice.app.people.rights import InInstallation, InProject
from edge_slice.core.drawing.rules.standard import DrawingStandard
from edge_slice.core.drawing.rules.word_languages import words_by_language
from edge_slice.core.model.parts.disciplines import named_discipline
from edge_slice.store.tables import ModelImport, Project
from edge_slice.web.access import needs, person
from edge_slice.web.common import ById, answer, routes

api = routes("parts", __name__)


class PartList(RootModel[list[PartOut]]):
    pass


class NamedFileList(RootModel[list[NamedFile]]):
    pass


class TriedList(RootModel[list[TriedOut]]):
    pass


class WordsOut(BaseModel):
    """The shipped words for materials in a language, by its code (ISO 639-1)."""

    language: str
    words: list[str]


class WordList(RootModel[list[WordsOut]]):
    pass


class MaterialPictureList(RootModel[list[MaterialPictureOut]]):
    pass


class ByKey(BaseModel):
    id: RowId
    key: str = Field(pattern=r"^[1-9][0-9]{0,5}$")


@api.get("/projects/<int:id>/parts", responses={200: PartList})
@needs(InProject.LOOK, Project)
def list_parts(path: ById) -> Response:
    """The parts of a project's model, the one that leads first"""
    return answer(list(parts.list_parts(path.id)))


@api.post("/parts/named", responses={200: NamedFileList})
@needs(InInstallation.SIGNED_IN)
def named_files(body: FileNames) -> Response:
    """Whose files are by their names, before anything of them is read"""
    return answer([NamedFile(name=name, discipline=named_discipline(name)) for name in body.names])


@api.patch("/projects/<int:id>/parts/<string:key>", responses={200: RevisionTaken})
@needs(InProject.EDIT, Project)
def edit_part(path: ByKey, body: PartEdit) -> Response:
    """Name a part, say whose it is, move it, let it lead: a revision of the whole"""
    return answer(parts.edit_part(path.id, path.key, body))


@api.delete("/projects/<int:id>/parts/<string:key>", responses={200: RevisionTaken})
@needs(InProject.EDIT, Project)
def remove_part(path: ByKey) -> Response:
    """Take a part out of the model: a revision of the whole"""
    return answer(parts.remove_part(path.id, path.key))


@api.post("/projects/<int:id>/parts/<string:key>/picture", responses={200: PlacePicture})
@needs(InProject.LOOK, Project)
def picture_of_part(path: ByKey, body: PartEdit) -> Response:
    """A part as it would lie with another place, beside the others"""
    return answer(parts.picture_of_part(path.id, path.key, body))


@api.patch("/imports/<int:id>/part", responses={200: ImportOut})
@needs(InProject.EDIT, ModelImport)
def choose_part(path: ById, body: PartChoice) -> Response:
    """Say of a file that was read which part of its project it is, and where it lies"""
    return answer(imports.choose_part(path.id, body))


@api.get("/projects/<int:id>/materials", responses={200: MaterialsOut})
@needs(InProject.LOOK, Project)
def list_materials(path: ById) -> Response:
    """The materials of the model, those that are not clear first"""
    return answer(materials.materials_of(path.id, person()))


@api.post("/projects/<int:id>/materials/tried", responses={200: TriedList})
@needs(InProject.LOOK, Project)
def try_words(path: ById, body: DrawingStandard) -> Response:
    """What the materials of the model would be by the words of a standard"""
    return answer(materials.tried(path.id, body))


@api.get("/words", responses={200: WordList})
@needs(InInstallation.SIGNED_IN)
def list_words() -> Response:
    """The shipped words for materials, language by language"""
    return answer([WordsOut(language=code, words=list(words)) for code, words in words_by_language().items()])


@api.get("/projects/<int:id>/materials/pictures", responses={200: MaterialPictureList})
@needs(InProject.LOOK, Project)
def list_material_pictures(path: ById) -> Response:
    """Of each material of the model a picture of where most of it is"""
    return answer(materials.pictures_of(path.id))


@api.get("/imports/<int:id>/picture", responses={200: PlacePicture})
@needs(InProject.LOOK, ModelImport)
def picture_of_import(path: ById) -> Response:
    """A file that was read, as it would lie in its project's building"""
    return answer(parts.picture_of_import(path.id))
