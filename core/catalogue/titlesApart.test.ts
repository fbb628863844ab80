import { makeModel } from "~/testing/catalogueEntries";
import { titlesApart } from "./model";

test("two boards of one name are told apart by their code names, all others are called as everywhere", () => {
  const named = (id: string, name: string) => makeModel({ id, maker: "Halvik", names: [name], codename: `code-${id}` });
  const titles = titlesApart([named("a", "Note 5"), named("b", "Note 5"), named("c", "Leaf 10")]);
  expect([...titles.values()]).toEqual(["Halvik Note 5 (code-a)", "Halvik Note 5 (code-b)", "Halvik Leaf 10"]);
});
