import createClient from "openapi-fetch";
import { personHeader } from "./events/person";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Drawing = Schemas["DrawingOut"];
export type SectionCut = Schemas["SectionCut"];
export type ElevationCut = Schemas["ElevationCut"];
export type PlanCut = Schemas["PlanCut"];
export type PlaneCut = Schemas["PlaneCut"];
export type Perspective = Schemas["Perspective"];
export type DrawingSet = Schemas["DrawingSet"];
export type Standard = Schemas["StandardOut"];
export type StandardDocument = Schemas["DrawingStandard"];
export type Hatch = Schemas["Hatch"];
export type MaterialRule = Schemas["MaterialRule"];
export type Cut = Drawing["cut"];
export type Style = Schemas["DrawingSpec"];
export type InsetStrip = Schemas["InsetStrip"];
export type CutReport = Schemas["CutReportOut"];
export type LineActRequest = Schemas["LineActRequest"];
export type DrawingNew = Schemas["DrawingNew"];
export type Output = Schemas["OutputOut"];
export type Marker = Schemas["MarkerOut"];
export type Callout = Schemas["Callout"];
export type CalloutForm = Callout["form"];
export type CalloutStyle = Schemas["CalloutStyle"];
export type CalloutMark = Schemas["CalloutOut"];
export type Reference = Schemas["ReferenceOut"];
export type WallSection = Schemas["WallSectionOut"];
export type Region = Schemas["Region"];
export type DrawingMarkers = Schemas["DrawingMarkersOut"];
export type Element = Schemas["ElementOut"];
export type DrawingRule = Schemas["DrawingRuleOut"];
export type KeptMade = Schemas["KeptMadeOut"];
export type DrawingRuleEdit = Schemas["DrawingRuleEdit"];
export type OfficeRule = Schemas["OfficeRuleOut"];
export type DrawingKind = Drawing["kind"];
export type Following = Schemas["FollowingOut"];
export type ShownSet = Schemas["ShownSetOut"];
export type ShownRule = ShownSet["rule"];
export type ModelWords = Schemas["ModelWords"];
export type Words = Schemas["WordsOut"];
export type Tried = Schemas["TriedOut"];
export type MaterialPicture = Schemas["MaterialPictureOut"];
export type Proposed = Schemas["ProposedOut"];
export type SettingsGiven = Schemas["SettingsGiven"];
export type Fitted = Schemas["FittedOut"];
export type Places = Schemas["PlacesOut"];
export type Thing = Schemas["ThingOut"];
export type Passage = Schemas["PassageOut"];
export type Miss = Schemas["MissOut"];
export type EdgeEnds = Schemas["EdgeEnds"];
export type ElementLook = Schemas["ElementLook"];
export type Appearance = Schemas["Appearance"];
export type SurfaceStyle = Schemas["SurfaceStyle"];
export type Sun = Schemas["Sun"];
export type Extents = Schemas["Extents"];
export type Viewpoint = Schemas["ViewpointOut"];
export type Seen = Schemas["Seen"];
export type SharedExtents = Schemas["SharedExtentsOut"];
export type ExtentsBox = Schemas["ExtentsBox"];
export type ExtentsSide = Schemas["SharedExtentsSide"]["side"];
export type GroundState = Schemas["GroundOut"];
export type Grounds = Schemas["Grounds"];
export type Ground = Schemas["Ground"];
export type GroundShape = Ground["shape"];
export type GroundRole = "existing" | "proposed";
export type GroundHandle = Schemas["GroundHandleOut"];
export type GroundText = Schemas["GroundText"];
export type GroundRows = Schemas["GroundRows"];
export type Light = Schemas["LightOut"];
export type Tint = Schemas["TintOut"];
export type SolidLook = Schemas["SolidLookOut"];
export type Project = Schemas["ProjectOut"];
export type ModelImport = Schemas["ImportOut"];
export type NamedFile = Schemas["NamedFile"];
export type ModelPart = Schemas["PartOut"];
export type MaterialRow = Schemas["MaterialOut"];
export type BuildUp = Schemas["BuildUpOut"];
export type Answers = Schemas["AnswersOut"];
export type LayersCorrection = Schemas["BuildUpCorrection"];
export type MoveCorrection = Schemas["MovedElements"];
export type FaceCorrection = Schemas["FaceElsewhere"];
export type OpeningCorrection = Schemas["OtherOpening"];
export type CopyCorrection = Schemas["CopiedElements"];
export type BodyCorrection = Schemas["NewBody"];
export type RunCorrection = Schemas["NewRun"];
export type LayerOnFace = Schemas["NewLayer"];
export type MaterialCorrection = Schemas["OtherMaterial"];
export type StepsCorrection = Schemas["OtherFlight"];
export type InFile = Schemas["InFileOut"];
export type FaceHandle = Schemas["HandleOut"];
export type FlatFace = Schemas["FlatFaceOut"];
export type FlatFaces = Schemas["FlatFacesOut"];
export type FaceHandles = Schemas["HandlesOut"];
export type Plane = Schemas["PlaneOut"];
export type Opening = Schemas["OpeningOut"];
export type Correction = CorrectionState["correction"];
export type CorrectionState = Schemas["CorrectionOut"];
export type MaterialHere = Schemas["MaterialHere"];
export type Materials = Schemas["MaterialsOut"];
export type PartEdit = Partial<Schemas["PartEdit"]>;
export type PartChoice = Partial<Schemas["PartChoice"]>;
export type PartPlace = Schemas["PartPlace"];
export type PartProposal = Schemas["PartProposal"];
export type PlacePicture = Schemas["PlacePicture"];
export type Sheet = Schemas["SheetOut"];
export type Placement = Schemas["PlacementOut"];
export type Trim = Placement["trim"];
export type Guide = Schemas["GuideOut"];
export type Arranged = Schemas["ArrangedOut"];
export type SheetDesign = Schemas["DesignOut"];
export type DesignDocument = SheetDesign["document"];
export type DesignPart = DesignDocument["parts"][number];
export type DesignRegion = DesignPart["region"];
export type Documented = Schemas["DocumentedOut"];
export type Register = Project["sheet_register"];
export type Renumbering = Schemas["RenumberOut"];
export type Publication = Schemas["PublicationOut"];
export type PublicationNew = Schemas["PublicationNew"];
export type Finding = Schemas["FindingOut"];
export type Held = Schemas["HoldOut"];
export type Offer = Schemas["Offer"];
export type Sweep = Schemas["SweepOut"];
export type ProjectEdit = Schemas["ProjectEdit"];
export type Issues = Schemas["IssuesOut"];
export type Issue = Issues["issues"][number];
export type IssueChanges = Schemas["IssueChangesOut"];
export type MarksPlaced = Schemas["MarksPlaced"];
export type Solid = Schemas["SolidOut"];
export type Leaf = Schemas["LeafOut"];
export type DrawingPlanes = Schemas["DrawingPlanesOut"];
export type PlaneCutFound = Schemas["PlaneCutOut"];
export type Stop = Schemas["StopOut"];
export type NameTemplates = Project["names"];
export type KeptSet = Schemas["KeptSetOut"];
export type Recut = Schemas["RecutOut"];
export type Settings = Schemas["SettingsOut"];
export type Annotation = Schemas["AnnotationOut"];
export type AnnotationDocument = Annotation["document"];
export type AnnotationsAct = Schemas["AnnotationsAct"];
export type SpotIn = Schemas["Spot"];
export type Snaps = Schemas["SnapsOut"];
export type SetRule = Schemas["SetWanted"]["rule"];
export type SetDone = Schemas["SetOut"];
export type TouchUp = Schemas["TouchUpOut"];
export type TouchUpNew = Schemas["Pointed"];
export type Unsettled = Schemas["AnchorOut"];
export type Settling = Schemas["Settling"];
export type FoundText = Schemas["FoundText"];
export type ModelChanges = Schemas["ModelChangesOut"];
export type Revision = Schemas["RevisionOut"];
export type RevisionTaken = Schemas["RevisionTaken"];
export type Step = Schemas["StepOut"];
export type History = Schemas["HistoryOut"];
export type Problem = Schemas["Problem"];
export type Session = Schemas["SessionOut"];
export type LinkSeen = Schemas["LinkSeenOut"];
export type OwnAccount = Schemas["OwnAccountOut"];
export type Account = Schemas["AccountOut"];
export type AccountEdit = Partial<Schemas["AccountEdit"]>;
export type People = Schemas["PeopleOut"];
export type Invited = Schemas["InvitedOut"];
export type InvitationSeen = Schemas["InvitationSeenOut"];
export type Role = Schemas["MemberOut"]["role"];
export type SharedLink = Schemas["LinkOut"];
export type Remark = Schemas["RemarkOut"];
export type RemarkState = Remark["state"];
export type Pin = Schemas["PinOut"];
export type IssuedPin = Schemas["IssuedPinOut"];
export type Became = Schemas["BecameOut"];
export type TopicsRead = Schemas["TopicsRead"];
export type Notice = Schemas["NoticeOut"];
export type AuditEntry = Schemas["AuditOut"];

export const client = createClient<paths>();
client.use({
  onRequest: ({ request }) => {
    for (const [name, value] of Object.entries(personHeader())) request.headers.set(name, value);
  },
});

/** An answer that is no success; `message` is for the user. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}

/** What the server answers to what isn't described, or isn't JSON; throws `Refusal` where it refuses. */
export async function fetched(path: string, init?: RequestInit): Promise<Response> {
  const answer = await fetch(path, init);
  if (!answer.ok) throw new Refusal(answer.status, await answer.json());
  return answer;
}

const UNREACHABLE: Problem = {
  message: "The server can't be reached. What was saved is safe; this change is tried again.",
  field: "",
  current: null,
  request: "",
};

type Answer = { data?: unknown; error?: unknown; response: Response };

/** The data of an answer, as the generated type that the caller names (the client widens tuples to arrays);
 * throws `Refusal` for everything else, also when the server is gone. */
export async function unwrap<T>(request: Promise<Answer>): Promise<T> {
  let answer: Answer;
  try {
    answer = await request;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Refusal(0, UNREACHABLE);
  }
  if (answer.response.ok) return answer.data as T;
  throw new Refusal(answer.response.status, (answer.error as Problem | undefined) ?? UNREACHABLE);
}

/** Not the user's fault and worth another try: no server, or a server without its database. */
export const isOutage = (error: unknown) =>
  error instanceof Refusal && (error.status === 0 || error.status === 503);
