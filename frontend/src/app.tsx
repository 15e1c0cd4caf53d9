import { lazy, Suspense, useEffect } from "react";
import { createBrowserRouter, Navigate, useParams } from "react-router";
import { type Project, Refusal, type Settings } from "./api/client";
import { useProject, useProjects, useSettings } from "./api/queries";
import { ChecksBench } from "./checks-bench/ChecksBench";
import { DrawingsBench } from "./drawings-bench/desk/DrawingsBench";
import { useLengthUnit } from "./fields/lengths";
import { useImperial } from "./fields/scale";
import { Waiting } from "./fields/Waiting";
import { InPlace, InPlaceParticulars } from "./in-place/InPlace";
import { AccountPage } from "./people/AccountPage";
import { AccountsPage } from "./people/AccountsPage";
import { Gate } from "./people/Gate";
import { InvitationPage } from "./people/InvitationPage";
import { LinkPage } from "./people/LinkPage";
import { PeoplePage } from "./people/PeoplePage";
import { ProjectsPage } from "./projects/ProjectsPage";
import { SheetsBench } from "./sheets-bench/SheetsBench";
import { Shell } from "./shell/Shell";
import { StandardsPage } from "./standards/StandardsPage";
import { TablesBench } from "./tables-bench/TablesBench";

/** The first page: the first project's drawings, or the way in for a model. */
function Front() {
  const { data, error } = useProjects();
  if (!data) return <Waiting error={error} />;
  const first = data[0];
  return <Navigate to={first ? `/projects/${first.id}` : "/projects"} replace />;
}

/** Lengths and scales are written as the project does. */
function useProjectUnits(project: Project | undefined, settings: Settings | undefined) {
  const lengths = project?.lengths;
  useEffect(() => {
    if (lengths) useLengthUnit.setState({ lengths });
  }, [lengths]);
  const imperial = settings?.imperial_scales;
  useEffect(() => {
    if (imperial) useImperial.setState({ names: new Map(imperial.map((s) => [s.scale, s.name])) });
  }, [imperial]);
}

// brings the libraries for three dimensions along, which nobody else needs
const ModelBench = lazy(() => import("./model-bench/ModelBench").then((m) => ({ default: m.ModelBench })));

const IN_PLACE = { Pane: InPlace, Particulars: InPlaceParticulars };

function Bench({
  of,
}: {
  of: "drawings" | "sheets" | "tables" | "checks" | "standards" | "model" | "people";
}) {
  const id = Number(useParams().project);
  const { data: project, error } = useProject(id);
  const { data: settings } = useSettings();
  useProjectUnits(project, settings);
  // one that was deleted, or is none of this person's any more, shows no longer
  const gone = error instanceof Refusal && error.status === 404;
  if (!project || !settings || gone) return <Waiting error={error} />;
  if (of === "standards") return <StandardsPage project={id} />;
  if (of === "people") return <PeoplePage project={project} />;
  if (of === "tables") return <TablesBench key={id} project={project} />;
  if (of === "checks") return <ChecksBench project={project} />;
  if (of === "model")
    return (
      <Suspense fallback={<Waiting error={null} />}>
        <ModelBench key={id} project={project} settings={settings} />
      </Suspense>
    );
  return of === "drawings" ? (
    <DrawingsBench key={id} project={project} settings={settings} />
  ) : (
    <SheetsBench project={project} settings={settings} inPlace={IN_PLACE} />
  );
}

/** Where a page could not be drawn: nothing that was saved is lost. */
function Broken() {
  return (
    <div role="alert" className="flex flex-col items-start gap-3 p-8">
      <h1 className="text-lg font-semibold">This page could not be shown</h1>
      <p>What was saved is safe. Load the page again; if it happens once more, go on in another bench.</p>
      <button type="button" className="btn btn-sm" onClick={() => window.location.reload()}>
        Load it again
      </button>
      <a className="link" href="/projects">
        All projects
      </a>
    </div>
  );
}

export const router = createBrowserRouter([
  { path: "/invitation", element: <InvitationPage />, errorElement: <Broken /> },
  { path: "/link", element: <LinkPage />, errorElement: <Broken /> },
  {
    element: (
      <Gate>
        <Shell />
      </Gate>
    ),
    errorElement: <Broken />,
    children: [
      { path: "/", element: <Front /> },
      { path: "/projects", element: <ProjectsPage /> },
      { path: "/projects/:project", element: <Bench of="drawings" /> },
      { path: "/projects/:project/sheets/:sheet?", element: <Bench of="sheets" /> },
      { path: "/projects/:project/model", element: <Bench of="model" /> },
      { path: "/projects/:project/tables/:table?", element: <Bench of="tables" /> },
      { path: "/projects/:project/checks", element: <Bench of="checks" /> },
      { path: "/projects/:project/standards/:key?", element: <Bench of="standards" /> },
      { path: "/projects/:project/people", element: <Bench of="people" /> },
      { path: "/account", element: <AccountPage /> },
      { path: "/accounts", element: <AccountsPage /> },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);
