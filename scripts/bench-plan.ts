// npm run bench:plan: how long a division and a timetable take, and how far from what is proven they are.
import { measureDivision } from "./benchDivision";
import { measureSchedule } from "./benchSchedule";

await measureDivision();
await measureSchedule();
