import { formatWithin } from '@lodestone/core/why';
import { nameOf, type Train } from '@lodestone/core/train';
import { settingInWords, type AssemblyStep, type ChangeOver, type Lying } from '@lodestone/core/assembly';

function stepText(train: Train, { n, do: words, tools, cautions, measure }: AssemblyStep): string[] {
  const pad = ' '.repeat(4);
  return [
    `${String(n).padStart(2)}  ${words}`,
    ...(tools.length > 0 ? [`${pad}tools: ${tools.join(', ')}`] : []),
    ...cautions.map((caution) => `${pad}! ${caution}`),
    ...(measure
      ? [
          `${pad}measure ${nameOf(train, measure.from)} to ${nameOf(train, measure.to)}: ${formatWithin(measure.expectedMm, measure.uncertaintyMm, 'mm')}`
        ]
      : [])
  ];
}

/** An assembly for a person at a bench. */
export const sheetText = (train: Train, steps: readonly AssemblyStep[]): string =>
  [train.name, '', ...steps.flatMap((step) => stepText(train, step)), ''].join('\n');

const listText = (title: string, lines: readonly string[]): string[] =>
  lines.length === 0 ? [] : [title, ...lines.map((line) => `  ${line}`)];

/** A change from one train to another, for a person. */
export function changeOverText(
  from: Train,
  to: Train,
  { open, close, keep, aside, bring, joints, exhausted, set, shared }: ChangeOver
): string {
  const lying =
    (train: Train) =>
    ({ id, location }: Lying) =>
      `${nameOf(train, id)}${location === null ? '' : `, ${location}`}`;
  return [
    shared === 0
      ? `${from.name} to ${to.name}: they share no part. Put ${from.name} away as it is, and assemble ${to.name} from its own parts.`
      : `${from.name} to ${to.name}: ${joints} ${joints === 1 ? 'joint' : 'joints'} to open, ${exhausted ? 'the fewest there can be' : 'the fewest found: not every way was looked at'}.`,
    ...listText(
      'Open, on the sky side of',
      open.map((id) => nameOf(from, id))
    ),
    ...listText(
      'Stays together',
      keep.map((ids) => ids.map((id) => nameOf(from, id)).join(' · '))
    ),
    ...listText('Put aside', aside.map(lying(from))),
    ...listText('Bring', bring.map(lying(to))),
    ...listText(
      'Set',
      set.map((each) => settingInWords(to, each, 'mm'))
    ),
    ...listText(
      'Close, on the sky side of',
      close.map((id) => nameOf(to, id))
    ),
    ''
  ].join('\n');
}
