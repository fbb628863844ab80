// npm run account -- add NAME ROLE | password NAME | list: accounts, for whoever has this computer. The password is read from
// standard input, or from UPSHIFT_PASSWORD.
import { createInterface } from "node:readline";
import { hashPassword, passwordProblem } from "~/app/server/access/password";
import { dbFile } from "~/app/server/http/dbFile";
import { accountNameProblem } from "~/core/access/accountName";
import { isRole, ROLES } from "~/core/access/roles";
import { addAccount, changeAccount, findAccount, listAccounts } from "~/store/accounts";
import { openStore } from "~/store/database";

const USAGE = `npm run account -- add NAME ROLE | password NAME | list   (roles: ${ROLES.join(", ")})`;

async function readPassword(): Promise<string> {
  if (process.env.UPSHIFT_PASSWORD) return process.env.UPSHIFT_PASSWORD;
  if (process.stdin.isTTY) process.stderr.write("Password: ");
  for await (const line of createInterface({ input: process.stdin })) return line.trim();
  return "";
}

const fail = (says: string): never => {
  console.error(`account: ${says}`);
  process.exit(2);
};

const [act, name = "", role = ""] = process.argv.slice(2);
const store = openStore(dbFile());
const hand = { by: "the command line", at: new Date().toISOString() };
if (act === "list") {
  for (const a of listAccounts(store)) console.log(`${a.name}\t${a.role}${a.closed ? "\tclosed" : ""}`);
} else if (act === "add" || act === "password") {
  const unfit = accountNameProblem(name);
  if (unfit) fail(`${unfit}\n${USAGE}`);
  const account = findAccount(store, name);
  if (act === "password" && !account) fail(`there is no account “${name}”`);
  if (act === "add" && !isRole(role)) fail(`there is no role “${role}”\n${USAGE}`);
  const password = await readPassword();
  const problem = passwordProblem(password, name);
  if (problem) fail(problem);
  const hash = await hashPassword(password);
  const wrong =
    act === "password"
      ? changeAccount(store, account?.id ?? 0, { what: "password", password: hash }, hand)
      : addAccount(store, { name, role: isRole(role) ? role : "looker-on", password: hash }, hand);
  if (wrong) fail(wrong);
  console.log(act === "add" ? `${name} may sign in, as ${role}.` : `${name} has a new password and signs in anew.`);
} else fail(USAGE);
store.close();
