import {
  type CalloutForm,
  type CalloutStyle,
  client,
  type Drawing,
  type Reference,
  type Region,
  unwrap,
  type WallSection,
} from "./client";

/** A new drawing that enlarges a region of another one. */
export const callOut = (drawing: number, region: Region, form: CalloutForm, rule: string) =>
  unwrap<Drawing>(
    client.POST("/api/drawings/{id}/callouts", {
      params: { path: { id: drawing } },
      body: { region, form, name: "", rule },
    }),
  );

/** A region that leads to a drawing which is there already, or to a new blank detail of the region's size. */
export const leadTo = (drawing: number, region: Region, target: number | "blank", size: [number, number]) =>
  unwrap<Reference>(
    client.POST("/api/drawings/{id}/callout-references", {
      params: { path: { id: drawing } },
      body: {
        region,
        name: "",
        target_id: target === "blank" ? null : target,
        blank: target === "blank" ? { width: size[0], height: size[1] } : null,
      },
    }),
  );

export const moveBubble = (reference: number, version: number, marker: CalloutStyle) =>
  unwrap<Reference>(
    client.PATCH("/api/callout-references/{id}", {
      params: { path: { id: reference } },
      body: { version, marker, region: null, target_id: null },
    }),
  );

export const deleteReference = (reference: number) =>
  unwrap<undefined>(client.DELETE("/api/callout-references/{id}", { params: { path: { id: reference } } }));

type Place = [number, number];

/** The section of the wall at a place on plan, with its junctions; nothing is saved. */
export const offerWallSection = (project: number, at: Place, look: "left" | "right") =>
  unwrap<WallSection>(
    client.POST("/api/projects/{id}/wall-section-proposals", {
      params: { path: { id: project } },
      body: { at, look },
    }),
  );

/** That section, and details of some of its junctions. */
export const makeWallSection = (
  project: number,
  body: { at: Place; look: "left" | "right"; plan: number; junctions: number[]; shared: number[] } & {
    rule: string;
    detail_rule: string;
  },
) =>
  unwrap<Drawing[]>(
    client.POST("/api/projects/{id}/wall-sections", { params: { path: { id: project } }, body }),
  );

/** Enlargements of stairs and rooms of a plan. */
export const enlarge = (plan: number, things: string[], rule: string) =>
  unwrap<Drawing[]>(
    client.POST("/api/drawings/{id}/enlargements", {
      params: { path: { id: plan } },
      body: { things, rule },
    }),
  );
