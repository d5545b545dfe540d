/**
 * `service=tickets site="port ellery"` → each label with its value. What is no such pair is kept under its own words, so that the
 * server can say what is wrong with it.
 */
export function labelsIn(written: string): Record<string, string> {
  const labels: Record<string, string> = {};
  for (const [, name = '', , quoted, plain] of written.matchAll(/([^\s=]+)(=(?:"([^"]*)"|(\S*)))?/g)) {
    labels[name] = quoted ?? plain ?? '';
  }
  return labels;
}
