import { isRecord } from './isRecord.ts';
import type { ErrorObject } from 'ajv';
import {
  validateBayonetPort,
  validateBoltPort,
  validateClampPort,
  validateSlipPort,
  validateThreadPort
} from './generated/validate.js';
import { KEY_WORDS } from './fields.ts';
import { ELEMENT_KINDS, isElementKind } from './model.ts';

/** One thing wrong with a document, and where. */
export interface Complaint {
  /** RFC 6901 JSON pointer into the document; "" is the whole of it. */
  pointer: string;
  /** The same place in words, as in `element 3 “Filter wheel”, length`. */
  place: string;
  message: string;
  /** Line of the text it was read from, counted from 1, where there is a text. */
  line?: number;
}

/** Keys of a drawer's parts that have words; the others are in the schema of a train. */
const PART_WORDS: Readonly<Record<string, string>> = {
  maxErrorMm: 'maximum permissible error',
  zeroMm: 'zero reading'
};

/** Words for the keys a person meets; other keys are shown as they are. */
const keyWord = (key: string): string =>
  KEY_WORDS.get(key) ?? (Object.hasOwn(PART_WORDS, key) ? PART_WORDS[key]! : key);

const child = (node: unknown, key: string): unknown =>
  Array.isArray(node) ? node[Number(key)] : isRecord(node) && Object.hasOwn(node, key) ? node[key] : undefined;

export const pointerSteps = (pointer: string): string[] =>
  pointer === ''
    ? []
    : pointer
        .slice(1)
        .split('/')
        .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));

export const toPointer = (steps: readonly (string | number)[]): string =>
  steps.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

export function valueAt(root: unknown, pointer: string): unknown {
  return pointerSteps(pointer).reduce<unknown>(child, root);
}

const shorten = (text: string, most = 40): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

/** Says in words where a pointer leads, using the names the document itself gives. */
export function placeInWords(root: unknown, pointer: string): string {
  const steps = pointerSteps(pointer);
  if (steps.length === 0) return 'the document';
  const words: string[] = [];
  let rest = steps;
  const [list, at] = steps;
  if ((list === 'elements' || list === 'parts') && at !== undefined) {
    const entry = child(child(root, list), at);
    const name = isRecord(entry) && typeof entry.name === 'string' ? ` “${shorten(entry.name)}”` : '';
    words.push(`${list === 'parts' ? 'part' : 'element'} ${Number(at) + 1}${name}`);
    rest = steps.slice(2);
  }
  return [...words, ...stepsInWords(rest)].join(', ');
}

const stepsInWords = (steps: readonly string[]): string[] =>
  steps.map((step) => (/^\d+$/.test(step) ? `entry ${Number(step) + 1}` : keyWord(shorten(step))));

/** Names a field of the train, its host or an element: `camera face, thread`. */
export const fieldWords = (path: readonly string[]): string => stepsInWords(path).join(', ');

/** Names a JSON value for a person: `the text “17.2”`, `nothing`, `a list`. */
function found(candidate: unknown): string {
  if (candidate === undefined) return 'nothing';
  if (candidate === null) return 'null';
  if (typeof candidate === 'string') return `the text “${shorten(candidate)}”`;
  if (Array.isArray(candidate)) return 'a list';
  if (typeof candidate === 'object') return 'an object';
  return String(candidate);
}

/** A value as a person would say it, in a line: `17.6`, `“Tin 2”`, `nothing`; undefined for what has no short name. */
export function valueInWords(value: unknown): string | undefined {
  if (value === undefined) return 'nothing';
  if (typeof value === 'string') return `“${shorten(value)}”`;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? String(value) : undefined;
}

const TYPE_WORDS: Readonly<Record<string, string>> = {
  number: 'a number',
  integer: 'a whole number',
  string: 'text',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object'
};

const PORT_HINT =
  'a port is one of {thread, gender, lengthMm}, {bayonet, gender}, {bolts: {count, circleMm}}, {slip, gender}, {clamp, gender}';

function limitMessage({ keyword, params }: ErrorObject, candidate: unknown): string {
  const bound = String(params.limit);
  const rule =
    keyword === 'minimum'
      ? `at least ${bound}`
      : keyword === 'maximum'
        ? `at most ${bound}`
        : keyword === 'exclusiveMinimum'
          ? `above ${bound}`
          : `below ${bound}`;
  return `must be ${rule}, but is ${found(candidate)}`;
}

/** What no text shows: all controls but the tab and ends of lines. */
// eslint-disable-next-line no-control-regex
export const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/;

/** The key that is not known at its place, where that is what is wrong. */
function foreignKey({ keyword, params }: ErrorObject): string | undefined {
  if (keyword === 'additionalProperties') return String(params.additionalProperty);
  return keyword === 'unevaluatedProperties' ? String(params.unevaluatedProperty) : undefined;
}

function messageOf(error: ErrorObject, root: unknown): string {
  const candidate = valueAt(root, error.instancePath);
  switch (error.keyword) {
    case 'type':
      return `must be ${TYPE_WORDS[String(error.params.type)] ?? String(error.params.type)}, but is ${found(candidate)}`;
    case 'required':
      return `is missing “${String(error.params.missingProperty)}” (${keyWord(String(error.params.missingProperty))})`;
    case 'additionalProperties':
    case 'unevaluatedProperties':
      return `has a key that is not known here: “${shorten(foreignKey(error) ?? '')}”`;
    case 'const':
      return `must be ${JSON.stringify(error.params.allowedValue)}, but is ${found(candidate)}`;
    case 'enum':
      return `must be one of ${(error.params.allowedValues as unknown[]).join(', ')}, but is ${found(candidate)}`;
    case 'minimum':
    case 'maximum':
    case 'exclusiveMinimum':
    case 'exclusiveMaximum':
      return limitMessage(error, candidate);
    case 'minLength':
      return 'must not be empty';
    case 'maxLength':
      return `must be at most ${String(error.params.limit)} characters long`;
    case 'minItems':
      return `must have at least ${String(error.params.limit)} entries`;
    case 'maxItems':
      return `must have at most ${String(error.params.limit)} entries`;
    case 'minProperties':
      return 'must name at least one of focalLengthMm, fRatio, apertureMm';
    case 'pattern':
      if (typeof candidate === 'string' && CONTROL.test(candidate)) {
        const code = CONTROL.exec(candidate)![0].codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0');
        return `contains a control character (U+${code})`;
      }
      if (typeof candidate === 'string' && candidate.trim() === '') return 'must not be blank';
      return `is not of the expected form: ${found(candidate)}`;
    case 'discriminator': {
      const kind = isRecord(candidate) ? candidate.kind : undefined;
      return typeof kind === 'string' && !isElementKind(kind)
        ? `has an unknown kind “${shorten(kind)}”; kinds are ${ELEMENT_KINDS.join(', ')}`
        : `must have a kind: one of ${ELEMENT_KINDS.join(', ')}`;
    }
    case 'oneOf':
      return `has no connection: ${PORT_HINT}`;
    default:
      return `breaks the rule “${error.keyword}” of the format`;
  }
}

/** The kinds of port, each by the one key that only it has. */
const PORT_VALIDATORS = {
  thread: validateThreadPort,
  bayonet: validateBayonetPort,
  bolts: validateBoltPort,
  slip: validateSlipPort,
  clamp: validateClampPort
} as const;

/** Errors of a port against the kind it was meant to be; undefined when it does not say which. */
function meantPortErrors(candidate: unknown): readonly ErrorObject[] | undefined {
  if (!isRecord(candidate)) return undefined;
  const meant = Object.entries(PORT_VALIDATORS).filter(([key]) => Object.hasOwn(candidate, key));
  const [only] = meant;
  if (!only || meant.length > 1) return undefined;
  const validate = only[1];
  validate(candidate);
  return validate.errors ?? [];
}

/** Replaces the errors of a port's alternatives by those of the one that was meant. */
function untangledPorts(errors: readonly ErrorObject[], root: unknown): ErrorObject[] {
  const ports = errors.filter(({ keyword }) => keyword === 'oneOf');
  const inPort = ({ instancePath }: ErrorObject): boolean =>
    ports.some((port) => instancePath === port.instancePath || instancePath.startsWith(`${port.instancePath}/`));
  return [
    ...errors.filter((error) => !inPort(error)),
    ...ports.flatMap((port) => {
      const meant = meantPortErrors(valueAt(root, port.instancePath));
      return meant?.map((error) => ({ ...error, instancePath: port.instancePath + error.instancePath })) ?? [port];
    })
  ];
}

/** Complaints about one document: nobody mends more at once, and a hostile one could have millions. */
export const MOST_COMPLAINTS = 100;

/** Errors that are put in words: those of a port's alternatives become fewer. */
const MOST_ERRORS = 5 * MOST_COMPLAINTS;

/**
 * Says what Ajv found in words.
 *
 * @param errors Ajv's errors for `root`, with allErrors on
 * @param root the document they were found in
 * @returns at most {@link MOST_COMPLAINTS}, and one that counts the rest
 */
export function complaintsFrom(errors: readonly ErrorObject[], root: unknown): Complaint[] {
  const complaints = untangledPorts(errors.slice(0, MOST_ERRORS), root).map((error) => {
    const foreign = foreignKey(error);
    const extra = foreign === undefined ? [] : [foreign];
    return {
      pointer: error.instancePath + toPointer(extra),
      place: placeInWords(root, error.instancePath),
      message: messageOf(error, root)
    };
  });
  const left = complaints.length - MOST_COMPLAINTS + Math.max(0, errors.length - MOST_ERRORS);
  if (left <= 0) return complaints;
  const message = `has ${left} more ${left === 1 ? 'thing' : 'things'} wrong`;
  return [...complaints.slice(0, MOST_COMPLAINTS), { pointer: '', place: 'the document', message }];
}

/** Place and message as a sentence: `element 3 “Wheel”, length must be at least 0, but is -1`. */
export const complaintInWords = ({ place, message }: Complaint): string => `${place} ${message}`;

/** One line for a log or a terminal: pointer, place in words, what is wrong. */
export const complaintLine = (complaint: Complaint): string => {
  const { pointer, line } = complaint;
  const at = `${pointer === '' ? '(whole document)' : pointer}${line === undefined ? '' : ` (line ${line})`}`;
  return `${at}: ${complaintInWords(complaint)}`;
};
