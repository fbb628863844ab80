import type { EditAnswer } from "~/app/server/catalogue/editEntry";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { SectionForm, type SectionFormProps } from "~/app/ui/SectionForm";

interface Props extends Omit<SectionFormProps, "kept" | "wrong" | "submit"> {
  /** What the entry goes by, and its page. */
  readonly title: string;
  readonly page: string;
  readonly answer: EditAnswer | undefined;
}

/** The page of one part of an entry. */
export function EntryEdit({ title, page, answer, ...form }: Props) {
  return (
    <>
      <title>{`${form.section.title}: ${title} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={page}>{title}</Link>
      </p>
      <h1>{form.section.title}</h1>
      {answer && <Notice kind="wrong">{answer.says}.</Notice>}
      <SectionForm {...form} kept={answer?.kept ?? null} wrong={answer?.wrong ?? {}} submit="Save" />
    </>
  );
}
