import { expect, it } from 'vitest';
import { linesOf } from './lines';

const encoded = new TextEncoder();
const stream = (...pieces: (string | Uint8Array)[]) =>
  new ReadableStream<Uint8Array>({
    start(controller) {
      pieces.forEach((piece) => controller.enqueue(typeof piece === 'string' ? encoded.encode(piece) : piece));
      controller.close();
    },
  });
const euro = encoded.encode('€');

it.each<[string, ReadableStream<Uint8Array>, string[]]>([
  ['nothing', stream(), []],
  ['whole lines', stream('a\nb\n'), ['a', 'b']],
  ['lines that are cut in two', stream('{"sha', 're":0.', '5}\n{', '}\n'), ['{"share":0.5}', '{}']],
  ['many in one piece, and empty ones', stream('a\n\nb\nc', '\n'), ['a', 'b', 'c']],
  ['a last one without its end', stream('a\nb'), ['a', 'b']],
  ['a letter that is cut in two', stream(euro.slice(0, 1), euro.slice(1), '\n'), ['€']],
])('%s', async (_, body, expected) => {
  const lines: string[] = [];
  for await (const line of linesOf(body)) lines.push(line);
  expect(lines).toEqual(expected);
});
