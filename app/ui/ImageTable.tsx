import { Link } from "~/app/ui/Link";
import { type Image, imageBytes, KIND_WORDS } from "~/core/catalogue/image";
import { Scroll } from "./Scroll";
import { bytesText } from "./words";

export type ShortImage = Pick<
  Image,
  "id" | "kind" | "title" | "version" | "release" | "patch" | "released" | "withdrawn" | "files" | "faults" | "models"
>;

/** A list of images, newest release first. */
export function ImageTable({ images }: { images: readonly ShortImage[] }) {
  return (
    <Scroll label="Images">
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Image</th>
            <th scope="col">Kind</th>
            <th scope="col">Android</th>
            <th scope="col">Patch</th>
            <th scope="col">For</th>
            <th scope="col" className="n">
              To fetch
            </th>
            <th scope="col">Mind</th>
          </tr>
        </thead>
        <tbody>
          {images.map((i) => (
            <tr key={i.id}>
              <td>
                <Link to={`/images/${i.id}`} className="font-bold">
                  {i.title}
                </Link>
                <span className="hint block">{i.id}</span>
              </td>
              <td>{KIND_WORDS[i.kind]}</td>
              <td>{i.release}</td>
              <td className="whitespace-nowrap">{i.patch ?? "—"}</td>
              <td>{i.models.join(", ") || "generic"}</td>
              <td className="n">{bytesText(imageBytes(i))}</td>
              <td>
                {i.withdrawn && <span className="font-bold text-stop">withdrawn </span>}
                {i.faults.map((f) => f.says).join("; ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
