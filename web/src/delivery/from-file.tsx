import type { PartFromFile } from '../api/types';

/** `from delivery.yaml`, where a part of the plan stands in a file. */
export function FromFile({ part, files }: { part: string; files: readonly PartFromFile[] }) {
  const file = files.find((one) => one.part === part)?.file;
  return file === undefined ? null : (
    <span className="block text-[13px] text-muted">
      from <span className="font-mono text-[12.5px] break-all">{file}</span>
    </span>
  );
}
