import { quantity } from '../ui/format';

export type Drawn = {
  title: string;
  unit: string;
  times: number[];
  lines: { name: string; hue: string; values: (number | null)[] }[];
  clock: (at: number) => string;
};

const escape = (text: string) =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

/** The chart as a picture of its own: it reads without the page around it. */
export function svgOf({ title, unit, times, lines, clock }: Drawn): string {
  const [width, height, left, top, right, bottom] = [
    960,
    420 + Math.ceil(lines.length / 4) * 20,
    76,
    44,
    16,
    36 + Math.ceil(lines.length / 4) * 20,
  ];
  const values = lines.flatMap((line) => line.values).filter((value): value is number => value !== null);
  const low = Math.min(0, ...values);
  const high = Math.max(...values, low + 1e-9);
  const x = (i: number) => left + (i / Math.max(1, times.length - 1)) * (width - left - right);
  const y = (value: number) => height - bottom - ((value - low) / (high - low)) * (height - top - bottom);
  const parts = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"` +
      ' font-family="Hanken Grotesk, system-ui, sans-serif" font-size="12">',
    `<rect width="${width}" height="${height}" fill="#ffffff"/>`,
    `<text x="16" y="24" font-size="14" font-weight="600" fill="#23261e">${escape(title)}</text>`,
  ];
  for (let i = 0; i <= 4; i++) {
    const value = low + ((high - low) * i) / 4;
    parts.push(
      `<line x1="${left}" x2="${width - right}" y1="${y(value)}" y2="${y(value)}" stroke="#dddacb"/>`,
      `<text x="${left - 8}" y="${y(value) + 4}" text-anchor="end" fill="#62644f">${escape(quantity(value, unit))}</text>`,
    );
  }
  for (let i = 0; i <= 5; i++) {
    const at = Math.round(((times.length - 1) * i) / 5);
    parts.push(
      `<text x="${x(at)}" y="${height - bottom + 18}" text-anchor="${i === 0 ? 'start' : i === 5 ? 'end' : 'middle'}" fill="#62644f">` +
        `${escape(clock(times[at]!))}</text>`,
    );
  }
  lines.forEach((line, n) => {
    let path = '';
    let pen = false;
    line.values.forEach((value, i) => {
      if (value !== null) path += `${pen ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`;
      pen = value !== null;
    });
    parts.push(`<path d="${path}" fill="none" stroke="${line.hue}" stroke-width="1.6" stroke-linejoin="round"/>`);
    const [column, row] = [n % 4, Math.floor(n / 4)];
    parts.push(
      `<rect x="${left + column * 215}" y="${height - bottom + 30 + row * 20}" width="12" height="4" fill="${line.hue}"/>`,
      `<text x="${left + 18 + column * 215}" y="${height - bottom + 36 + row * 20}" fill="#23261e">${escape(line.name || 'value')}</text>`,
    );
  });
  return [...parts, '</svg>'].join('\n');
}

/** RFC 4180: a row an instant, a column a line; values as they are, without units. */
export function csvOf({ times, lines }: Drawn): string {
  const field = (text: string) => (/[",\r\n]/.test(text) ? `"${guarded(text).replaceAll('"', '""')}"` : guarded(text));
  const rows = [['time', ...lines.map((line) => field(line.name || 'value'))]];
  times.forEach((at, i) =>
    rows.push([
      new Date(at).toISOString(),
      ...lines.map((line) => (line.values[i] === null || line.values[i] === undefined ? '' : String(line.values[i]))),
    ]),
  );
  return rows.map((row) => row.join(',')).join('\r\n') + '\r\n';
}

/** Spreadsheets run what begins like a formula; a quote before it keeps it text, as in the exports of the server. */
const guarded = (text: string): string => (/^'*[=+\-@\t\r]/.test(text) ? `'${text}` : text);

export function save(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

export async function pngOf(drawn: Drawn): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml,${encodeURIComponent(svgOf(drawn))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [image.width * 2, image.height * 2];
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done, fail) =>
    canvas.toBlob((blob) => (blob ? done(blob) : fail(new Error('The picture could not be made'))), 'image/png'),
  );
}
