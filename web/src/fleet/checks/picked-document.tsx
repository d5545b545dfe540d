import { type ReactNode, useMemo } from 'react';

type Pick = (where: string, shown: string) => void;

/** The document that a trial brought: whatever stands in it as a value can be clicked, and becomes a metric. */
export function PickedDocument({ text, onPick }: { text: string; onPick: Pick }) {
  const json = useMemo(() => {
    try {
      return { is: JSON.parse(text) as unknown };
    } catch {
      return null;
    }
  }, [text]);
  const page = useMemo(() => (json || !text.trimStart().startsWith('<') ? null : pageOf(text)), [json, text]);
  if (json) return <pre className={LOOK}>{jsonNode(json.is, '', onPick, 0)}</pre>;
  if (page) return <pre className={LOOK}>{pageLines(page, onPick)}</pre>;
  return <pre className={LOOK}>{text}</pre>;
}

const LOOK = 'max-h-64 overflow-auto rounded-lg border border-line bg-paper p-2 font-mono text-[12.5px] whitespace-pre-wrap';
const DEEPEST = 12;
const MOST = 400;

function Value({ where, shown, onPick }: { where: string; shown: string; onPick: Pick }) {
  return (
    <button
      type="button"
      title={`Make a metric of ${where}`}
      className="rounded-sm text-left text-accent underline decoration-dotted underline-offset-2 hover:bg-accent-soft"
      onClick={() => onPick(where, shown)}
    >
      {shown}
    </button>
  );
}

function jsonNode(value: unknown, at: string, onPick: Pick, depth: number): ReactNode {
  if (depth > DEEPEST) return '…';
  if (value === null || typeof value !== 'object') {
    return <Value where={`json ${at === '' ? '$' : at}`} shown={JSON.stringify(value)} onPick={onPick} />;
  }
  const isList = Array.isArray(value);
  const entries: [string, unknown][] = Object.entries(value as Record<string, unknown>).slice(0, MOST);
  const pad = '  '.repeat(depth + 1);
  return (
    <>
      {isList ? '[' : '{'}
      {entries.map(([key, one]) => (
        <span key={key}>
          {'\n'}
          {pad}
          {!isList && `${JSON.stringify(key)}: `}
          {jsonNode(one, `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`, onPick, depth + 1)}
        </span>
      ))}
      {entries.length > 0 && `\n${'  '.repeat(depth)}`}
      {isList ? ']' : '}'}
    </>
  );
}

type Found = { kind: 'xml' | 'html'; root: Document };

function pageOf(text: string): Found | null {
  const isXml = /^\s*<\?xml/.test(text);
  const root = new DOMParser().parseFromString(text, isXml ? 'application/xml' : 'text/html');
  return isXml && root.querySelector('parsererror') ? null : { kind: isXml ? 'xml' : 'html', root };
}

/** Each text that holds a number, and each attribute of XML that does, with its XPath. */
function pageLines({ kind, root }: Found, onPick: Pick): ReactNode[] {
  const lines: ReactNode[] = [];
  const walker = root.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node && lines.length < MOST; node = walker.nextNode()) {
    const text = node.nodeType === Node.TEXT_NODE ? (node.nodeValue ?? '').trim() : '';
    const parent = node.parentElement;
    if (text !== '' && parent && !['SCRIPT', 'STYLE', 'TITLE'].includes(parent.tagName)) {
      lines.push(
        <span key={lines.length} className="block">
          {/\d/.test(text) ? <Value where={`${kind} ${pathOf(parent)}`} shown={text} onPick={onPick} /> : text}
        </span>,
      );
    }
    for (const attribute of kind === 'xml' && node instanceof Element ? [...node.attributes] : []) {
      lines.push(
        <span key={lines.length} className="block">
          {`${(node as Element).tagName} ${attribute.name} `}
          <Value where={`xml ${pathOf(node as Element)}/@${attribute.name}`} shown={attribute.value} onPick={onPick} />
        </span>,
      );
    }
  }
  return lines;
}

/** By its id where it has one, else by its place among its likes. */
function pathOf(element: Element): string {
  const id = element.getAttribute('id');
  const tag = element.namespaceURI === 'http://www.w3.org/1999/xhtml' ? element.tagName.toLowerCase() : element.tagName;
  if (id && !id.includes('"')) return `//${tag}[@id="${id}"]`;
  const parent = element.parentElement;
  const likes = parent ? [...parent.children].filter((one) => one.tagName === element.tagName) : [];
  const own = likes.length > 1 ? `${tag}[${likes.indexOf(element) + 1}]` : tag;
  return parent ? `${pathOf(parent)}/${own}` : `/${own}`;
}
