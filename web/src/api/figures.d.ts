// Made by scripts/types from flowcore/results/catalogue.py; change it there.

type OfCases = "mean" | "sd" | "min" | "max" | "p5" | "p10" | "p25" | "p50" | "p75" | "p90" | "p95" | "p99" | "none" | "p50:each" | "p90:each" | `within:${string}`;
type Half = "" | ":regular" | ":overtime";

/** The address of a figure, as the catalogue has it. */
export type FigureAddress =
  | `type/${string}/wait${Half}/${OfCases}`
  | `stream/${string}/wait${Half}/${OfCases}`
  | `outcome/${string}/wait${Half}/${OfCases}`
  | `step/${string}/wait${Half}/${OfCases}`
  | `span/${string}/wait${Half}/${OfCases}`
  | `checkpoint/${string}/wait${Half}/${OfCases}`
  | `type/${string}/work/${OfCases}`
  | `stream/${string}/work/${OfCases}`
  | `outcome/${string}/work/${OfCases}`
  | `step/${string}/work/${OfCases}`
  | `span/${string}/work/${OfCases}`
  | `checkpoint/${string}/work/${OfCases}`
  | `type/${string}/travel/${OfCases}`
  | `stream/${string}/travel/${OfCases}`
  | `outcome/${string}/travel/${OfCases}`
  | `step/${string}/travel/${OfCases}`
  | `span/${string}/travel/${OfCases}`
  | `checkpoint/${string}/travel/${OfCases}`
  | `type/${string}/blocked/${OfCases}`
  | `stream/${string}/blocked/${OfCases}`
  | `outcome/${string}/blocked/${OfCases}`
  | `step/${string}/blocked/${OfCases}`
  | `span/${string}/blocked/${OfCases}`
  | `checkpoint/${string}/blocked/${OfCases}`
  | `type/${string}/total/${OfCases}`
  | `stream/${string}/total/${OfCases}`
  | `outcome/${string}/total/${OfCases}`
  | `step/${string}/total/${OfCases}`
  | `span/${string}/total/${OfCases}`
  | `checkpoint/${string}/total/${OfCases}`
  | `type/${string}/cost/${OfCases}`
  | `stream/${string}/cost/${OfCases}`
  | `outcome/${string}/cost/${OfCases}`
  | `step/${string}/cost/${OfCases}`
  | `span/${string}/cost/${OfCases}`
  | `checkpoint/${string}/cost/${OfCases}`
  | `day/${string}/gone/${OfCases}`
  | `type/${string}/arrived${Half}`
  | `stream/${string}/arrived${Half}`
  | `outcome/${string}/arrived${Half}`
  | `step/${string}/arrived${Half}`
  | `type/${string}/served${Half}`
  | `stream/${string}/served${Half}`
  | `outcome/${string}/served${Half}`
  | `step/${string}/served${Half}`
  | `type/${string}/completed${Half}`
  | `stream/${string}/completed${Half}`
  | `outcome/${string}/completed${Half}`
  | `type/${string}/abandoned${Half}/${"" | "of:arrived"}`
  | `stream/${string}/abandoned${Half}/${"" | "of:arrived"}`
  | `step/${string}/abandoned${Half}/${"" | "of:arrived"}`
  | `type/${string}/turned-away${Half}/${"" | "of:arrived"}`
  | `stream/${string}/turned-away${Half}/${"" | "of:arrived"}`
  | `step/${string}/turned-away${Half}/${"" | "of:arrived"}`
  | `outcome/${string}/abandoned${Half}`
  | `outcome/${string}/turned-away${Half}`
  | `type/${string}/inside`
  | `stream/${string}/inside`
  | `outcome/${string}/inside`
  | `step/${string}/line${Half}/${"mean" | "max" | "end"}`
  | `type/${string}/line${Half}/${"mean" | "max" | "end"}`
  | `step/${string}/inside${Half}/${"mean" | "max" | "end"}`
  | `type/${string}/inside${Half}/${"mean" | "max" | "end"}`
  | `line/${string}/inside/${"mean" | "max" | "end"}`
  | `step/${string}/cause:any${Half}/${"mean"}`
  | `type/${string}/cause:any${Half}/${"mean"}`
  | `team/${string}/cause:any${Half}/${"mean"}`
  | `step/${string}/cause:busy${Half}/${"mean"}`
  | `type/${string}/cause:busy${Half}/${"mean"}`
  | `team/${string}/cause:busy${Half}/${"mean"}`
  | `step/${string}/cause:break${Half}/${"mean"}`
  | `type/${string}/cause:break${Half}/${"mean"}`
  | `team/${string}/cause:break${Half}/${"mean"}`
  | `step/${string}/cause:absent${Half}/${"mean"}`
  | `type/${string}/cause:absent${Half}/${"mean"}`
  | `team/${string}/cause:absent${Half}/${"mean"}`
  | `step/${string}/cause:off-shift${Half}/${"mean"}`
  | `type/${string}/cause:off-shift${Half}/${"mean"}`
  | `team/${string}/cause:off-shift${Half}/${"mean"}`
  | `step/${string}/cause:interrupted${Half}/${"mean"}`
  | `type/${string}/cause:interrupted${Half}/${"mean"}`
  | `team/${string}/cause:interrupted${Half}/${"mean"}`
  | `step/${string}/cause:place${Half}/${"mean"}`
  | `type/${string}/cause:place${Half}/${"mean"}`
  | `team/${string}/cause:place${Half}/${"mean"}`
  | `step/${string}/cause:closed${Half}/${"mean"}`
  | `type/${string}/cause:closed${Half}/${"mean"}`
  | `team/${string}/cause:closed${Half}/${"mean"}`
  | `step/${string}/cause:next-line${Half}/${"mean"}`
  | `type/${string}/cause:next-line${Half}/${"mean"}`
  | `team/${string}/cause:next-line${Half}/${"mean"}`
  | `step/${string}/cause:signal${Half}/${"mean"}`
  | `type/${string}/cause:signal${Half}/${"mean"}`
  | `team/${string}/cause:signal${Half}/${"mean"}`
  | `step/${string}/cause:batch${Half}/${"mean"}`
  | `type/${string}/cause:batch${Half}/${"mean"}`
  | `team/${string}/cause:batch${Half}/${"mean"}`
  | `step/${string}/cause:branches${Half}/${"mean"}`
  | `type/${string}/cause:branches${Half}/${"mean"}`
  | `team/${string}/cause:branches${Half}/${"mean"}`
  | `step/${string}/cause:minimum${Half}/${"mean"}`
  | `type/${string}/cause:minimum${Half}/${"mean"}`
  | `team/${string}/cause:minimum${Half}/${"mean"}`
  | `step/${string}/cause:person${Half}/${"mean"}`
  | `type/${string}/cause:person${Half}/${"mean"}`
  | `team/${string}/cause:person${Half}/${"mean"}`
  | `type/${string}/value:adds/${"mean" | "share"}`
  | `type/${string}/value:necessary/${"mean" | "share"}`
  | `type/${string}/value:waste/${"mean" | "share"}`
  | `link/${string}/arrived`
  | `link/${string}/travel/${"mean"}`
  | `deadline/${string}/started`
  | `deadline/${string}/met`
  | `deadline/${string}/missed`
  | `deadline/${string}/left`
  | `team/${string}/utilisation${Half}`
  | `team/${string}/occupancy${Half}`
  | `team/${string}/paid-use${Half}`
  | `team/${string}/working${Half}`
  | `member/${string}/utilisation`
  | `member/${string}/occupancy`
  | `member/${string}/paid-use`
  | `member/${string}/working`
  | `team/${string}/present${Half}`
  | `team/${string}/state:off`
  | `member/${string}/state:off`
  | `team/${string}/state:absent`
  | `member/${string}/state:absent`
  | `team/${string}/state:idle`
  | `member/${string}/state:idle`
  | `team/${string}/state:working`
  | `member/${string}/state:working`
  | `team/${string}/state:walking`
  | `member/${string}/state:walking`
  | `team/${string}/state:break`
  | `member/${string}/state:break`
  | `team/${string}/state:interrupted`
  | `member/${string}/state:interrupted`
  | `place/${string}/utilisation`
  | `place/${string}/inside/${"mean"}`
  | `cost/total${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/regular${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/idle${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/overtime-base${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/overtime-premium${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/overtime${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/use${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/case${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/changeover${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/penalty${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/waiting${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/inside${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/value${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/total${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/regular${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/idle${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/overtime-base${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/overtime-premium${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/overtime${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `cost/team/${string}/use${Half}/${"run" | "per:hour" | "per:day" | "per:open-day" | "per:case"}`
  | `measure/${string}/share`
  | `measure/${string}/count`
  | `measure/${string}/time/${OfCases}`
  | `measure/${string}/level`
  | `run/minutes`;
