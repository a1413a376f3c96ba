import type { FocusRun, Train, TriedSpacing } from '@lodestone/core/train';
import type { Sitting } from '$lib/api/history.ts';
import type { BuildRecord } from '$lib/api/records.ts';

/** One entry of the line of what happened to a train. */
export type Happened =
  | { kind: 'sitting'; at: string; key: string; sitting: Sitting }
  | { kind: 'record'; at: string; key: string; record: BuildRecord }
  | { kind: 'run'; at: string; key: string; run: FocusRun }
  | { kind: 'experiment'; at: string; key: string; experiment: TriedSpacing };

/** What happened to a train, the newest first: sittings at it, what was built, focus runs and experiments. */
export function timelineOf(
  { focusing, tuning }: Pick<Train, 'focusing' | 'tuning'>,
  sittings: readonly Sitting[],
  records: readonly BuildRecord[]
): Happened[] {
  const oldest = sittings.at(-1)?.beganAt ?? '';
  const runs = [...(focusing?.runs ?? []), ...(focusing?.run ? [focusing.run] : [])];
  const all: Happened[] = [
    ...sittings.map(
      (sitting) => ({ kind: 'sitting', at: sitting.endedAt, key: `s${sitting.first}`, sitting }) as const
    ),
    ...records.map((record) => ({ kind: 'record', at: record.finishedAt, key: `r${record.id}`, record }) as const),
    ...runs.flatMap((run, index) =>
      run.on === undefined || run.points.length === 0
        ? []
        : [{ kind: 'run', at: run.on, key: `f${index}`, run: run as FocusRun } as const]
    ),
    ...(tuning?.experiments ?? []).flatMap((experiment, index) =>
      experiment.on === undefined
        ? []
        : [{ kind: 'experiment', at: experiment.on, key: `e${index}`, experiment: experiment as TriedSpacing } as const]
    )
  ];
  const timeOf = ({ at }: Happened): number => Date.parse(at);
  // What is older than what was asked for stands nowhere yet; a day alone, before it, is shown all the same.
  return all
    .filter(
      ({ kind, at }) => kind === 'sitting' || kind === 'record' || at >= oldest || oldest === '' || at.length <= 10
    )
    .sort((a, b) => timeOf(b) - timeOf(a));
}
