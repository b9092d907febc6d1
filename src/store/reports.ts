import { and, desc, eq, inArray } from "drizzle-orm";
import type { Store } from "./store";
import { issues, photos, studies } from "./schema";

/** How a study is reported, as it was kept; null where nothing was chosen. */
export const getReportChoice = (store: Store, studyId: string): unknown =>
  store.select({ report: studies.report }).from(studies).where(eq(studies.id, studyId)).get()
    ?.report ?? null;

/** Keeps how a study is reported. @returns whether there is such a study */
export const putReportChoice = (store: Store, studyId: string, report: unknown): boolean =>
  store.update(studies).set({ report }).where(eq(studies.id, studyId)).run().changes > 0;

type Issue = typeof issues.$inferSelect;
/** An issue without what it holds. */
export type ListedIssue = Pick<Issue, "studyId" | "number" | "title" | "issuedAt">;

const LISTED = {
  studyId: issues.studyId,
  number: issues.number,
  title: issues.title,
  issuedAt: issues.issuedAt,
};

/** The issues of a study's report, the latest first. */
export const issuesOf = (store: Store, studyId: string): ListedIssue[] =>
  store
    .select(LISTED)
    .from(issues)
    .where(eq(issues.studyId, studyId))
    .orderBy(desc(issues.number))
    .all();

/** Every issue of every study, also of those that are gone, the latest first. */
export const allIssues = (store: Store): ListedIssue[] =>
  store.select(LISTED).from(issues).orderBy(desc(issues.issuedAt)).all();

export const getIssue = (store: Store, studyId: string, number: number): Issue | null =>
  store
    .select()
    .from(issues)
    .where(and(eq(issues.studyId, studyId), eq(issues.number, number)))
    .get() ?? null;

/** Keeps an issue under the next number of its study. @returns the number */
export const insertIssue = (store: Store, issue: Omit<Issue, "number">): number =>
  store.transaction((all) => {
    const last = all
      .select({ number: issues.number })
      .from(issues)
      .where(eq(issues.studyId, issue.studyId))
      .orderBy(desc(issues.number))
      .get();
    const number = (last?.number ?? 0) + 1;
    all
      .insert(issues)
      .values({ ...issue, number })
      .run();
    return number;
  });

export type StoredPhoto = typeof photos.$inferSelect;

/** Keeps a picture; one that is there already stays. */
export const putPhoto = (store: Store, photo: StoredPhoto): void =>
  void store.insert(photos).values(photo).onConflictDoNothing().run();

/** Pictures by their identifiers, those that there are. */
export const getPhotos = (store: Store, ids: readonly string[]): StoredPhoto[] =>
  store
    .select()
    .from(photos)
    .where(inArray(photos.id, [...ids]))
    .all();
