import type { ReactNode } from "react";
import { Scroll } from "~/app/ui/Scroll";

/** A small table inside a file's details; numbers on the right. */
export function Table({
  label,
  head,
  rows,
}: {
  label: string;
  head: readonly string[];
  rows: readonly (readonly ReactNode[])[];
}) {
  const isNumber = (i: number) => head[i].startsWith("#");
  return (
    <Scroll label={label} className="mt-2 max-h-72 overflow-y-auto">
      <table className="rows">
        <thead>
          <tr>
            {head.map((h, i) => (
              <th key={h} scope="col" className={isNumber(i) ? "n" : undefined}>
                {h.replace(/^#/, "")}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, n) => (
            <tr key={n}>
              {row.map((cell, i) => (
                <td key={head[i]} className={isNumber(i) ? "n" : undefined}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
