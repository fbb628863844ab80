import type { WaitingGroup } from "~/core/allocate/group";
import { Opening } from "~/core/schedule/hours";
import type { Volunteer } from "~/core/schedule/volunteer";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

type Kept = { readonly id: number; readonly closed: boolean; readonly version: number };
export type GroupRow = WaitingGroup & Kept;
export type VolunteerRow = Volunteer & Kept;

interface RawGroup extends Omit<WaitingGroup, "alike"> {
  readonly id: number;
  readonly alike: 0 | 1;
  readonly closed: 0 | 1;
  readonly version: number;
}
interface RawVolunteer {
  readonly id: number;
  readonly name: string;
  readonly ways: string;
  readonly minds: number;
  readonly days: string;
  readonly away: string;
  readonly closed: 0 | 1;
  readonly version: number;
}

const groups = query<object, RawGroup>(`SELECT * FROM waiting_group ORDER BY closed, by, name`);
const oneGroup = queryOne<{ id: number }, RawGroup>(`SELECT * FROM waiting_group WHERE id = @id`);
const groupNamed = queryOne<{ name: string }, { id: number }>(`SELECT id FROM waiting_group WHERE name = @name`);
const insertGroup = change<Omit<RawGroup, "id" | "closed" | "version">>(`
  INSERT INTO waiting_group (name, need, wanted, least, by, weight, spares, alike, contact, note)
  VALUES (@name, @need, @wanted, @least, @by, @weight, @spares, @alike, @contact, @note)
`);
const updateGroup = change<RawGroup>(`
  UPDATE waiting_group
  SET    name = @name, need = @need, wanted = @wanted, least = @least, by = @by, weight = @weight, spares = @spares,
         alike = @alike, contact = @contact, note = @note, closed = @closed, version = version + 1
  WHERE  id = @id AND version = @version
`);
const volunteers = query<object, RawVolunteer>(`SELECT * FROM volunteer ORDER BY closed, name`);
const volunteerNamed = queryOne<{ name: string }, { id: number }>(`SELECT id FROM volunteer WHERE name = @name`);
const insertVolunteer = change<Omit<RawVolunteer, "id" | "closed" | "version">>(`
  INSERT INTO volunteer (name, ways, minds, days, away) VALUES (@name, @ways, @minds, @days, @away)
`);
const updateVolunteer = change<RawVolunteer>(`
  UPDATE volunteer
  SET    name = @name, ways = @ways, minds = @minds, days = @days, away = @away, closed = @closed, version = version + 1
  WHERE  id = @id AND version = @version
`);
const opening = queryOne<object, { doc: string; version: number }>(`SELECT doc, version FROM opening WHERE id = 1`);
const updateOpening = change<{ doc: string; version: number }>(`
  UPDATE opening SET doc = @doc, version = version + 1 WHERE id = 1 AND version = @version
`);
const record = change<{ kind: "group" | "volunteer" | "opening"; row: number; doc: string } & Hand>(`
  INSERT INTO evening_change (kind, row, doc, at, by) VALUES (@kind, @row, @doc, @at, @by)
`);

const groupOf = ({ alike, closed, ...row }: RawGroup): GroupRow => ({
  ...row,
  alike: alike === 1,
  closed: closed === 1,
});
const volunteerOf = ({ ways, days, away, closed, ...row }: RawVolunteer): VolunteerRow => ({
  ...row,
  ways: JSON.parse(ways),
  days: JSON.parse(days),
  away: JSON.parse(away),
  closed: closed === 1,
});

export const listGroups = (store: Store): GroupRow[] => groups(store, {}).map(groupOf);
export const openGroups = (store: Store): GroupRow[] => listGroups(store).filter(({ closed }) => !closed);
/** Names of all groups, by their id as the division has it. */
export const groupNames = (store: Store): ReadonlyMap<string, string> =>
  new Map(listGroups(store).map(({ id, name }) => [String(id), name]));
export function findGroup(store: Store, id: number): GroupRow | undefined {
  const row = oneGroup(store, { id });
  return row && groupOf(row);
}
export const listVolunteers = (store: Store): VolunteerRow[] => volunteers(store, {}).map(volunteerOf);
export const openVolunteers = (store: Store): VolunteerRow[] => listVolunteers(store).filter(({ closed }) => !closed);

/** The opening hours with their version. */
export function readOpening(store: Store): { readonly opening: Opening; readonly version: number } {
  const row = opening(store, {}) as { doc: string; version: number };
  return { opening: Opening.parse(JSON.parse(row.doc)), version: row.version };
}

const asGroup = (group: WaitingGroup) => ({ ...group, alike: group.alike ? (1 as const) : (0 as const) });
const asVolunteer = ({ ways, days, away, ...rest }: Volunteer) => ({
  ...rest,
  ways: JSON.stringify(ways),
  days: JSON.stringify(days),
  away: JSON.stringify(away),
});
const flag = (closed: boolean) => (closed ? (1 as const) : (0 as const));

/** Adds a group. @returns its id, or what is wrong in words */
export function addGroup(store: Store, group: WaitingGroup, hand: Hand): number | string {
  return inTransaction(store, () => {
    if (groupNamed(store, group)) return `There is a group ${group.name} already. Give this one another name`;
    const id = Number(insertGroup(store, asGroup(group)).lastInsertRowid);
    record(store, { kind: "group", row: id, doc: JSON.stringify(group), ...hand });
    return id;
  });
}

/** Changes, closes or opens a group. @returns what is wrong in words, or null @throws StaleEdit */
export function changeGroup(
  store: Store,
  { id, version, closed }: Kept,
  group: WaitingGroup,
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    const other = groupNamed(store, group);
    if (other && other.id !== id) return `There is a group ${group.name} already. Give this one another name`;
    const row = { ...asGroup(group), id, version, closed: flag(closed) };
    if (updateGroup(store, row).changes === 0) throw new StaleEdit("The group");
    record(store, { kind: "group", row: id, doc: JSON.stringify({ ...group, closed }), ...hand });
    return null;
  });
}

/** Adds a volunteer. @returns what is wrong in words, or null */
export function addVolunteer(store: Store, volunteer: Volunteer, hand: Hand): string | null {
  return inTransaction(store, () => {
    if (volunteerNamed(store, volunteer)) return `There is somebody called ${volunteer.name} already`;
    const row = Number(insertVolunteer(store, asVolunteer(volunteer)).lastInsertRowid);
    record(store, { kind: "volunteer", row, doc: JSON.stringify(volunteer), ...hand });
    return null;
  });
}

/** Changes a volunteer, or says that they come no more. @returns what is wrong in words, or null @throws StaleEdit */
export function changeVolunteer(
  store: Store,
  { id, version, closed }: Kept,
  volunteer: Volunteer,
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    const other = volunteerNamed(store, volunteer);
    if (other && other.id !== id) return `There is somebody called ${volunteer.name} already`;
    const row = { ...asVolunteer(volunteer), id, version, closed: flag(closed) };
    if (updateVolunteer(store, row).changes === 0) throw new StaleEdit(volunteer.name);
    record(store, { kind: "volunteer", row: id, doc: JSON.stringify({ ...volunteer, closed }), ...hand });
    return null;
  });
}

/** Sets the opening hours. @throws StaleEdit */
export function saveOpening(store: Store, next: Opening, version: number, hand: Hand): void {
  inTransaction(store, () => {
    const doc = JSON.stringify(next);
    if (updateOpening(store, { doc, version }).changes === 0) throw new StaleEdit("The opening hours");
    record(store, { kind: "opening", row: 1, doc, ...hand });
  });
}
