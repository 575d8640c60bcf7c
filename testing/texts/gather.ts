import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { parse } from 'vue/compiler-sfc';

/** A text that somebody may read, with the file that it stands in; what is put in is `{…}`. */
export interface Text {
  readonly file: string;
  readonly text: string;
}

const HOLE = '{…}';
/** Attributes whose value is read or heard. */
const READ = new Set(['title', 'aria-label', 'placeholder', 'label', 'alt', 'says', 'what']);
/** Keys whose value is read, where a word alone is a text too. */
const KEYS = /^(title|says|summary|label|name|placeholder|why|mends|wrong|then|onTo)$/;
/** Elements within a sentence. */
const INLINE = new Set(['b', 'strong', 'em', 'i', 'span', 'kbd', 'code', 'template', 'a']);

/** All texts of the application, the command line, the core and the server. */
export function gatherTexts(root = 'src'): Text[] {
  return filesIn(root).flatMap((file) => {
    const code = readFileSync(file, 'utf8');
    const texts = file.endsWith('.vue') ? ofComponent(code) : ofScript(code);
    const seen = new Set<string>();
    return texts
      .map((t) => t.replace(/\s+/g, ' ').trim())
      .filter((t) => isText(t) && !seen.has(t) && seen.add(t))
      .map((text) => ({ file, text }));
  });
}

function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) return filesIn(path);
      return /\.(vue|ts)$/.test(path) && !/\.(test|d)\.ts$/.test(path) ? [path] : [];
    });
}

/** Words with a space between them, or one word that begins like a title. */
const isText = (t: string) =>
  /[A-Za-z]{2}/.test(t) &&
  !/^[\w.$-]+$/.test(t.replace(/^[A-Z][a-z]+$/, ' ')) &&
  !/[{};<>=]\s*$|=>|::|\bvar\(|^\W*--|[a-z]\.[a-z]+\(|^M\d|^[.#][a-z]/.test(t.replaceAll(HOLE, ''));

function ofScript(code: string, keysOnly = false): string[] {
  const source = ts.createSourceFile('x.ts', code, ts.ScriptTarget.Latest, true);
  const out: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return;
    const text = said(node);
    if (text === null) return ts.forEachChild(node, visit);
    if (!isNoText(node, text)) out.push(text);
    // What stands in the holes is read too.
    holesOf(node).forEach(visit);
  };
  visit(source);
  return keysOnly ? out.filter((t) => t.includes(' ')) : out;
}

/** The words of a literal, a template, or several that are put together. */
function said(node: ts.Node): string | null {
  if (ts.isStringLiteralLike(node)) return node.text;
  if (ts.isTemplateExpression(node))
    return node.head.text + node.templateSpans.map((s) => HOLE + s.literal.text).join('');
  if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.PlusToken) {
    const [a, b] = [said(node.left), said(node.right)];
    return a === null && b === null ? null : (a ?? HOLE) + (b ?? HOLE);
  }
  return null;
}

function holesOf(node: ts.Node): ts.Node[] {
  if (ts.isTemplateExpression(node)) return node.templateSpans.map((s) => s.expression);
  if (ts.isBinaryExpression(node))
    return [node.left, node.right].flatMap((n) => (said(n) === null ? [n] : holesOf(n)));
  return [];
}

/** Ids, keys and what else is for the program. */
function isNoText(node: ts.Node, text: string): boolean {
  const { parent } = node;
  if (ts.isPropertyAssignment(parent) && parent.name === node) return true;
  if (text.includes(' ')) return false;
  return !(ts.isPropertyAssignment(parent) && KEYS.test(parent.name.getText()));
}

interface Node {
  readonly type: number;
  readonly tag?: string;
  readonly content?: string | Node | { readonly content: string };
  readonly children?: readonly Node[];
  readonly props?: readonly {
    readonly name: string;
    readonly value?: { readonly content: string };
    readonly arg?: { readonly content: string };
    readonly exp?: { readonly content: string };
  }[];
}
const ELEMENT = 1;
const WORDS = 2;
const INTERPOLATION = 5;

function ofComponent(code: string): string[] {
  const { descriptor } = parse(code);
  const out = [
    ...ofScript(descriptor.scriptSetup?.content ?? ''),
    ...ofScript(descriptor.script?.content ?? ''),
  ];
  const expression = (code: string) => ofScript(`(${code})`, true);
  const visit = (node: Node) => {
    for (const { name, value, arg, exp } of node.props ?? []) {
      if (READ.has(name) && value) out.push(value.content);
      if (name === 'bind' && READ.has(arg?.content ?? '') && exp) out.push(...expression(exp.content)); // prettier-ignore
    }
    // Of an element in a sentence the sentence is told once, by what it stands in.
    out.push(...sentences(node));
    for (const child of node.children ?? []) {
      if (child.type === INTERPOLATION)
        out.push(...expression((child.content as { content: string }).content)); // prettier-ignore
      else if (child.type === ELEMENT) visit(child);
    }
  };
  if (descriptor.template?.ast) visit(descriptor.template.ast as unknown as Node);
  return out;
}

/** The text of an element: what stands in it, elements within a sentence taken as words of it. */
function sentences(node: Node): string[] {
  const flat = (children: readonly Node[] = []): string =>
    children
      .map((c) => {
        if (c.type === WORDS) return c.content as string;
        if (c.type === INTERPOLATION) return HOLE;
        if (c.type !== ELEMENT) return '';
        const inline = INLINE.has(c.tag!) && !c.props?.some((p) => ['if', 'else', 'else-if'].includes(p.name)); // prettier-ignore
        return inline ? flat(c.children) : '\n';
      })
      .join('');
  const own = node.children?.some((c) => c.type === WORDS && (c.content as string).trim());
  return own ? flat(node.children).split('\n') : [];
}
