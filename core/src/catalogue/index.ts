// Usual things, to begin with: what ships, and what people say of a telescope in a line.
export * from './catalogue.ts';
export { readHostLine, type HostLine, type HostReading } from './hostLine.ts';
