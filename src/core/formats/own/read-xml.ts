import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { takeText } from './read-row';
import { newRow, Unread, type ReadRow } from './row';
import type { Value, XmlNode } from './schema';

/** An element as the parser gives it, in the order of the file. */
type Parsed = Record<string, unknown> & { ':@'?: Record<string, string> };

const nameOf = (e: Parsed) => Object.keys(e).find((k) => k !== ':@')!;
const childrenOf = (e: Parsed) => (e[nameOf(e)] as Parsed[]) ?? [];

/** Values are looked for in the order in which they stand: where each is, is known without a second parser. */
class Offsets {
  private at = 0;
  constructor(private readonly text: string) {}
  next(what: string): { from: number; to: number } {
    const from = this.text.indexOf(what, this.at);
    if (from < 0) return { from: this.at, to: this.at };
    this.at = from + what.length;
    return { from, to: this.at };
  }
  attribute(name: string): { from: number; to: number } {
    const { to } = this.next(` ${name}="`);
    const end = this.text.indexOf('"', to);
    this.at = Math.max(to, end);
    return { from: to, to: Math.max(to, end) };
  }
}

/** Reads XML by its description: elements and attributes in their order, none that is not described. */
export function readXmlTree(root: XmlNode, text: string): ReadRow {
  const valid = XMLValidator.validate(text);
  if (valid !== true)
    throw new Unread(`line ${valid.err.line}`, `This is not XML: ${valid.err.msg}`);
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    throw new Unread('the start', 'A file with a document type of its own is not read.');
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: true,
    ignoreDeclaration: true,
    ignorePiTags: true,
    processEntities: true,
  });
  const elements = parsed(parser, text).filter((e) => nameOf(e) !== '#text');
  const into = newRow(null);
  const places = new Offsets(text);
  const rest = takeAll([root], elements, into, places);
  if (rest < elements.length)
    throw new Unread(
      `<${nameOf(elements[rest]!)}>`,
      'It stands behind the end of what is described.',
    );
  return into;
}

/** What the parser gives up on is refused as well: it throws where the check before let it through. */
function parsed(parser: XMLParser, text: string): Parsed[] {
  try {
    return parser.parse(text) as Parsed[];
  } catch (error) {
    throw new Unread('the file', `This is not XML: ${(error as Error).message}`);
  }
}

function takeAll(
  nodes: readonly XmlNode[],
  elements: readonly Parsed[],
  into: ReadRow,
  places: Offsets,
): number {
  let n = 0;
  for (const node of nodes) {
    if (!node.each) {
      const element = elements[n];
      if (!element || nameOf(element) !== node.name)
        throw new Unread(`<${node.name}>`, 'It is missing where it is described.');
      one(node, element, into, places);
      n++;
      continue;
    }
    while (n < elements.length && nameOf(elements[n]!) === node.name) {
      const row = newRow(node.each);
      one(node, elements[n]!, row, places);
      into.rows.push(row);
      n++;
    }
  }
  return n;
}

function one(node: XmlNode, element: Parsed, into: ReadRow, places: Offsets): void {
  const where = `<${node.name}>`;
  const own = element[':@'] ?? {};
  const all = node.attributes ?? [];
  const wanted = all.filter((a) => !a.when || a.name in own);
  places.next(`<${node.name}`);
  if (Object.keys(own).join(' ') !== wanted.map((a) => a.name).join(' '))
    throw new Unread(
      where,
      `Its attributes have to be ${all.map((a) => a.name).join(', ') || 'none'}.`,
    );
  const take = (value: Value, said: string, place: { from: number; to: number }, what: string) => {
    if (!takeText(into, value, said, { ...place, decimal: '.' }))
      throw new Unread(`${where} ${what}`, `“${said.slice(0, 60)}” is no such value.`);
  };
  for (const a of wanted) take(a.value, own[a.name] ?? '', places.attribute(a.name), a.name);
  for (const { name, when } of all) if (when) into.told.push({ when, is: name in own });
  const inner = childrenOf(element);
  const text = inner
    .filter((c) => nameOf(c) === '#text')
    .map((c) => String(c['#text']))
    .join('');
  if (node.text) take(node.text, text, places.next(text), 'its text');
  else if (text.trim() !== '')
    throw new Unread(where, 'A text stands in it that is not described.');
  const elements = inner.filter((c) => nameOf(c) !== '#text');
  const rest = takeAll(node.children ?? [], elements, into, places);
  if (rest < elements.length)
    throw new Unread(`${where} <${nameOf(elements[rest]!)}>`, 'It is not described.');
}
