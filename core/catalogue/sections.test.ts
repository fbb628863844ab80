import { demoCatalogue } from "~/demo/catalogue";
import { editSection, valueAt } from "./editSection";
import { Image } from "./image";
import { IMAGE_SECTIONS } from "./imageSections";
import { Model } from "./model";
import { MODEL_SECTIONS } from "./modelSections";
import type { Section } from "./sections";

const { models, images } = demoCatalogue();

/** The form as it stands when nothing was typed. */
function formOf(entry: object, section: Section): FormData {
  const form = new FormData();
  const add = (name: string, value: unknown) => {
    if (Array.isArray(value)) form.set(name, value.join("\n"));
    else
      form.set(
        name,
        value === true ? "yes" : value === false ? "no" : value === null || value === undefined ? "" : String(value),
      );
  };
  for (const field of section.fields) {
    const value = valueAt(entry, field.at);
    if (field.kind === "rows")
      (value as object[]).forEach((row, i) => {
        for (const c of field.columns)
          if (c.kind === "checks")
            for (const v of valueAt(row, c.at) as string[]) form.append(`${field.at}.${i}.${c.at}`, v);
          else add(`${field.at}.${i}.${c.at}`, valueAt(row, c.at));
      });
    else if (field.kind === "checks") for (const v of value as string[]) form.append(field.at, v);
    else add(field.at, value);
  }
  return form;
}
const part = (sections: readonly Section[], id: string) => sections.find((s) => s.id === id) as Section;

test("a part that is saved as it stands changes nothing, for every entry of the demo", () => {
  for (const model of models)
    for (const section of MODEL_SECTIONS)
      expect(editSection(model, section, formOf(model, section), Model)).toEqual({ ok: true, entry: model });
  for (const image of images)
    for (const section of IMAGE_SECTIONS.filter((s) => !s.kinds || s.kinds.includes(image.kind)))
      expect(editSection(image, section, formOf(image, section), Image)).toEqual({ ok: true, entry: image });
});

test("no field is called like what a form carries of its own", () => {
  for (const { fields } of [...MODEL_SECTIONS, ...IMAGE_SECTIONS])
    expect(fields.map((f) => f.at)).not.toEqual(expect.arrayContaining(["rests-on"]));
});

test("a fault keeps every model it was seen on", () => {
  const faults = part(IMAGE_SECTIONS, "faults");
  const entry = { ...images[0], faults: [{ hardware: "camera" as const, models: ["a", "b"], says: "It is dark" }] };
  expect(editSection(entry, faults, formOf(entry, faults), Image)).toEqual({ ok: true, entry });
});

describe("what is wrong stands at its field", () => {
  const model = models[0];
  const wrong = (id: string, change: (form: FormData) => void, of: readonly Section[] = MODEL_SECTIONS) => {
    const section = part(of, id);
    const entry = of === MODEL_SECTIONS ? model : images[0];
    const form = formOf(entry, section);
    change(form);
    const read = editSection(entry as never, section, form, (of === MODEL_SECTIONS ? Model : Image) as never);
    return read.ok ? null : read.wrong;
  };
  test.each([
    ["no name", "names", (f: FormData) => f.set("names", "\n"), "names"],
    ["a day that is none", "names", (f: FormData) => f.set("on", "yesterday"), "on"],
    ["a number that is none", "flashing", (f: FormData) => f.set("room.system", "large"), "room.system"],
    ["a number left out", "flashing", (f: FormData) => f.set("maxDownload", ""), "maxDownload"],
    ["too many days", "unlocking", (f: FormData) => f.set("unlock.waitingDays", "900"), "unlock.waitingDays"],
  ])("%s", (_name, id, change, at) => expect(Object.keys(wrong(id, change) ?? {})).toEqual([at]));

  test("a wrong row by its number, an empty row left out", () => {
    const rows = (f: FormData) => {
      for (const [i, says] of ["it breaks", "", "x"].entries()) {
        f.set(`faults.${i}.hardware`, "camera");
        f.set(`faults.${i}.models`, "");
        f.set(`faults.${i}.says`, says);
      }
    };
    expect(wrong("faults", rows, IMAGE_SECTIONS)?.faults).toMatch(/^Row 2: /);
  });
});

test("withdrawn with a day, and not withdrawn without", () => {
  const section = part(IMAGE_SECTIONS, "withdrawn");
  const form = formOf(images[0], section);
  form.set("withdrawn.on", "2026-01-02");
  form.set("withdrawn.says", "Boot loop on some boards");
  const read = editSection(images[0], section, form, Image);
  expect(read).toMatchObject({ ok: true, entry: { withdrawn: { on: "2026-01-02", successor: null } } });
  form.set("withdrawn.on", "");
  expect(editSection(images[0], section, form, Image)).toMatchObject({ ok: true, entry: { withdrawn: null } });
});
