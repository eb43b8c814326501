import type { Cdl } from '@arvex/core';
import { CDL_DEFAULTS, cdlSchema } from '@arvex/core';
import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { InterchangeError } from '../error';

/** Kinds of files of colour decisions (ASC CDL 1.2): one correction, a collection, a list. */
export type CdlEnding = 'cc' | 'ccc' | 'cdl';

const NAMESPACE = 'urn:ASC:CDL:v1.01';

/** A correction with the id that its file gives it. */
export interface NamedCdl {
  readonly name: string;
  readonly cdl: Cdl;
}

/** A node as it was read: children by name, its text, and where it begins. */
type Node = Readonly<Record<string, unknown>>;

const META = XMLParser.getMetaDataSymbol() as unknown as symbol;
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  captureMetaData: true,
  removeNSPrefix: true,
  alwaysCreateTextNode: true,
  isArray: (name) => name === 'ColorCorrection' || name === 'ColorDecision',
});

/**
 * Reads all corrections of a .cc, .ccc or .cdl. What a correction does not say is as it leaves colours alone; where it says slope, offset
 * or power it says all three.
 * @throws InterchangeError naming the line and the way out.
 */
export function readCdl(text: string): readonly NamedCdl[] {
  const valid = XMLValidator.validate(text);
  if (valid !== true) throw new InterchangeError(`Line ${valid.err.line}: ${valid.err.msg}`, String(valid.err.line));
  const root = parser.parse(text) as Node;
  const single = listOf(root, 'ColorCorrection');
  const collection = child(root, 'ColorCorrectionCollection');
  const decisions = child(root, 'ColorDecisionList');
  const corrections = [
    ...single,
    ...(collection ? listOf(collection, 'ColorCorrection') : []),
    ...(decisions ? listOf(decisions, 'ColorDecision').flatMap((one) => listOf(one, 'ColorCorrection')) : []),
  ];
  if (corrections.length === 0)
    throw new InterchangeError('Line 1: there is no ColorCorrection in it. Is this a .cc, .ccc or .cdl file?', '1');
  return corrections.map((one, i) => ({
    name: typeof one['@id'] === 'string' && one['@id'].trim() !== '' ? one['@id'].trim() : `Correction ${i + 1}`,
    cdl: cdlOf(one, text),
  }));
}

function cdlOf(correction: Node, text: string): Cdl {
  const sop = child(correction, 'SOPNode');
  const sat = child(correction, 'SatNode') ?? child(correction, 'SATNode');
  const cdl = {
    ...CDL_DEFAULTS,
    ...(sop && {
      slope: tripleOf(sop, 'Slope', text),
      offset: tripleOf(sop, 'Offset', text),
      power: tripleOf(sop, 'Power', text),
    }),
    ...(sat && { saturation: numberOf(wanted(sat, 'Saturation', text), 'Saturation', text) }),
  };
  const checked = cdlSchema.safeParse(cdl);
  if (checked.success) return checked.data;
  const [issue] = checked.error.issues;
  const field = String(issue?.path[0] ?? '');
  const name = NODES[field] ?? 'SOPNode';
  const at = child(sop ?? correction, name) ?? child(sat ?? correction, name) ?? correction;
  throw wrong(at, text, `${name} is ${said(at)}: ${BOUNDS[field] ?? 'that is no correction'}.`);
}

const NODES: Readonly<Record<string, string>> = {
  slope: 'Slope',
  offset: 'Offset',
  power: 'Power',
  saturation: 'Saturation',
};
const BOUNDS: Readonly<Record<string, string>> = {
  slope: 'a slope is 0 to 100',
  offset: 'an offset is −10 to 10',
  power: 'a power lies above 0, from 0.01 to 10',
  saturation: 'a saturation is 0 to 10',
};

function tripleOf(sop: Node, name: string, text: string): [number, number, number] {
  const node = wanted(sop, name, text);
  const parts = said(node).split(/\s+/).filter(Boolean);
  const [r, g, b] = parts.map(Number);
  if (parts.length !== 3 || r === undefined || g === undefined || b === undefined || [r, g, b].some(Number.isNaN))
    throw wrong(node, text, `${name} is "${said(node).slice(0, 40)}": three numbers belong there.`);
  return [r, g, b];
}

function numberOf(node: Node, name: string, text: string): number {
  const value = said(node);
  if (value === '' || Number.isNaN(Number(value)))
    throw wrong(node, text, `${name} is "${value.slice(0, 40)}": a number belongs there.`);
  return Number(value);
}

function wanted(parent: Node, name: string, text: string): Node {
  const node = child(parent, name);
  if (!node)
    throw wrong(parent, text, `${name} is missing. Slope, Offset and Power belong together; Saturation in SatNode.`);
  return node;
}

function child(parent: Node, name: string): Node | undefined {
  const found = parent[name];
  return typeof found === 'object' && found !== null && !Array.isArray(found) ? (found as Node) : undefined;
}

function listOf(parent: Node, name: string): readonly Node[] {
  const found = parent[name];
  return Array.isArray(found) ? (found as Node[]) : [];
}

const said = (node: Node): string => {
  const text = node['#text'];
  return typeof text === 'string' || typeof text === 'number' ? String(text).trim() : '';
};

function wrong(node: Node, text: string, message: string): InterchangeError {
  const start = (node as Record<symbol, { startIndex?: number } | undefined>)[META]?.startIndex ?? 0;
  const line = text.slice(0, start).split('\n').length;
  return new InterchangeError(`Line ${line}: ${message}`, String(line));
}

/** Corrections as a file of their kind; a .cc holds the first of them. Numbers are written so that they read the same. */
export function writeCdl(corrections: readonly NamedCdl[], ending: CdlEnding): string {
  const nodes = corrections.map(({ name, cdl: { slope, offset, power, saturation } }) => ({
    '@id': name,
    SOPNode: { Slope: slope.join(' '), Offset: offset.join(' '), Power: power.join(' ') },
    SatNode: { Saturation: String(saturation) },
  }));
  const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', format: true });
  const xmlns = { '@xmlns': NAMESPACE };
  const root =
    ending === 'cc'
      ? { ColorCorrection: { ...xmlns, ...nodes[0] } }
      : ending === 'ccc'
        ? { ColorCorrectionCollection: { ...xmlns, ColorCorrection: nodes } }
        : { ColorDecisionList: { ...xmlns, ColorDecision: nodes.map((node) => ({ ColorCorrection: node })) } };
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build(root)}`;
}
