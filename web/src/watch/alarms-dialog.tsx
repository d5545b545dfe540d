import { useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { Crystal, SEVERITIES } from '../ui/severity';
import { type Choice, chooseAlarms, useAlarmChoice } from './alarm-choice';
import { PushSection } from './push-section';
import { play } from './sound';

/** What this browser does when something comes up, by severity; it is this browser's, not the person's. */
export default function AlarmsDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const choice = useAlarmChoice();
  const [asked, setAsked] = useState(false);
  const set = (severity: (typeof SEVERITIES)[number], part: 'sound' | 'notice', on: boolean) => {
    const next: Choice = { ...choice, [severity]: { ...choice[severity], [part]: on } };
    chooseAlarms(next);
    if (part === 'notice' && on && typeof Notification !== 'undefined' && Notification.permission === 'default' && !asked) {
      setAsked(true);
      void Notification.requestPermission().then((given) => {
        if (given !== 'granted')
          toast('The browser shows nothing by itself; what comes up is stacked in the corner of the page.');
      });
    }
  };
  return (
    <DialogBox open={open} onOpenChange={onOpenChange} title="Sound and notices of this browser">
      <p className="text-muted">
        For whatever comes up or grows graver while a page of Olivine is open here. It replaces no message.
      </p>
      <table className="my-3 w-full">
        <thead>
          <tr className="text-left text-muted">
            <th className="py-1 font-normal">Severity</th>
            <th className="py-1 font-normal">Sound</th>
            <th className="py-1 font-normal">Notice</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {SEVERITIES.map((severity) => (
            <tr key={severity} className="border-t border-line">
              <td className="py-1.5">
                <span className="flex items-center gap-2">
                  <Crystal severity={severity} /> {severity}
                </span>
              </td>
              {(['sound', 'notice'] as const).map((part) => (
                <td key={part} className="py-1.5">
                  <input
                    type="checkbox"
                    className="size-4"
                    aria-label={`${part} for ${severity}`}
                    checked={choice[severity][part]}
                    onChange={(event) => set(severity, part, event.target.checked)}
                  />
                </td>
              ))}
              <td className="py-1.5 text-right">
                <Button aria-label={`Hear it: ${severity}`} onClick={() => play(severity)}>
                  Hear it
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <PushSection />
    </DialogBox>
  );
}
