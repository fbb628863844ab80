import type { Instance } from "~/core/schedule/instance";

/**
 * A job shop in the usual text form as an instance: one job a line, pairs of machine and minutes in their order.
 *
 * @example jobShop("0 3 1 2\n1 4 0 1") // two jobs on two machines
 */
export function jobShop(text: string): Instance {
  const jobs = text
    .trim()
    .split("\n")
    .map((line) => line.trim().split(/\s+/).map(Number));
  const tasks: Instance["tasks"] = [];
  const machines = new Set<number>();
  jobs.forEach((row, job) => {
    for (let k = 0; k < row.length; k += 2) {
      machines.add(row[k]);
      tasks.push({
        id: `${job}.${k / 2}`,
        minutes: row[k + 1],
        uses: [{ resource: `m${row[k]}`, amount: 1 }],
        after: k ? [`${job}.${k / 2 - 1}`] : [],
      });
    }
  });
  return { aim: "makespan", tasks, resources: [...machines].map((id) => ({ id: `m${id}`, capacity: 1 })) };
}
