import { XMLParser } from 'fast-xml-parser';
import type { Value, When, XmlNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import { type Shape, type Solved, isLeaf, solve } from './solve';
import type { Found } from './found';

type Parsed = Record<string, unknown> & { ':@'?: Record<string, string> };

const nameOf = (e: Parsed) => Object.keys(e).find((k) => k !== ':@')!;

interface Element {
  readonly name: string;
  readonly attributes: readonly (readonly [string, string])[];
  readonly text: string | null;
  readonly children: readonly Element[];
}

function elementOf(e: Parsed): Element {
  const name = nameOf(e);
  const inner = (e[name] as Parsed[]) ?? [];
  const texts = inner.filter((c) => nameOf(c) === '#text').map((c) => String(c['#text']));
  return {
    name,
    attributes: Object.entries(e[':@'] ?? {}),
    text: texts.length > 0 ? texts.join('') : null,
    children: inner.filter((c) => nameOf(c) !== '#text').map(elementOf),
  };
}

/** Children of one name behind each other are a list. */
function groupsOf(children: readonly Element[]): { name: string; own: Element[] }[] {
  const out: { name: string; own: Element[] }[] = [];
  for (const child of children) {
    const last = out.at(-1);
    if (last?.name === child.name) last.own.push(child);
    else out.push({ name: child.name, own: [child] });
  }
  return out;
}

function xmlShape(e: Element): Shape {
  return {
    fields: [
      ...e.attributes.map(([k, v]): [string, Shape] => [`@${k}`, { leaf: v, plain: false }]),
      ...(e.text === null ? [] : ([['#', { leaf: e.text, plain: false }]] as [string, Shape][])),
      ...groupsOf(e.children).map(({ name, own }): [string, Shape] => [
        `<${name}>`,
        own.length === 1 && own[0]!.attributes.length > 3
          ? xmlShape(own[0]!)
          : { items: own.map(xmlShape), single: own.length === 1 },
      ]),
    ],
  };
}

function xmlNode(solved: Solved, name: string): XmlNode {
  const node: { -readonly [K in keyof XmlNode]: XmlNode[K] } & { name: string } = { name };
  const attributes: { name: string; value: Value; when?: When }[] = [];
  const children: XmlNode[] = [];
  for (const [key, s, when] of 'fields' in solved ? solved.fields : []) {
    const meant = when ? { when } : {};
    if (key.startsWith('@') && isLeaf(s))
      attributes.push({ name: key.slice(1), value: s.value, ...meant });
    else if (key === '#' && isLeaf(s)) node.text = s.value;
    else {
      const inner = key.slice(1, -1);
      if ('each' in s) children.push({ each: s.each, ...xmlNode(s.item, inner) });
      else if ('list' in s) for (const one of s.list) children.push(xmlNode(one, inner));
      else children.push(xmlNode(s, inner));
    }
  }
  if (attributes.length > 0) node.attributes = attributes;
  if (children.length > 0) node.children = children;
  return node;
}

/** What the first line says of itself. */
function declarationOf(text: string): { declaration?: string | boolean } {
  const own = /^<\?xml([^?]*)\?>/.exec(text)?.[1];
  if (own === undefined) return { declaration: false };
  return own === ' version="1.0" encoding="UTF-8"' ? {} : { declaration: own };
}

export function describeXml(text: string, world: World): Found[] {
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: true,
    ignoreDeclaration: true,
  });
  let all: Parsed[];
  try {
    all = parser.parse(text) as Parsed[];
  } catch {
    return [];
  }
  const top = all.find((e) => nameOf(e) !== '#text' && !nameOf(e).startsWith('?'));
  if (!top) return [];
  const element = elementOf(top);
  const { solved, findings } = solve(xmlShape(element), world);
  const root = xmlNode(solved, element.name);
  const indent = /\n( +)</.exec(text)?.[1]!.length ?? 0;
  return [
    {
      container: {
        kind: 'xml',
        ...(indent === 2 ? {} : { indent }),
        ...declarationOf(text),
        ...(/[^\s]\s\/>/.test(text) ? { closing: 'spaced' as const } : {}),
        root,
      },
      findings,
    },
  ];
}
