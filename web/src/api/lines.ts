/** What comes bit by bit, line by line: a line that was cut in two is whole again, and empty ones are none. */
export async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.pipeThrough(new TextDecoderStream() as TransformStream<Uint8Array, string>).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    const parts = (rest + (value ?? '')).split('\n');
    rest = done ? '' : (parts.pop() ?? '');
    yield* parts.filter((part) => part !== '');
    if (done) return;
  }
}
