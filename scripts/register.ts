// The stand-in for a register of lost devices: node scripts/run.mjs scripts/register.ts [--port N]. Prints its address.
import { parseArgs } from "node:util";
import { demoLost } from "~/demo/register";
import { RegisterStandIn } from "~/standins/register";

const { values } = parseArgs({ options: { port: { type: "string", default: "0" } } });
console.log(await new RegisterStandIn(demoLost()).listen(Number(values.port)));
