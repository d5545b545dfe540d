import { send } from '../api/client';
import type { PushBrowsers } from '../api/types';

/** Whether this browser can be told while no page is open in it. */
export const canBeTold = () => 'serviceWorker' in navigator && 'PushManager' in window && typeof Notification !== 'undefined';

const text = (bytes: ArrayBuffer | null) =>
  btoa(String.fromCharCode(...new Uint8Array(bytes ?? new ArrayBuffer(0))))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replace(/=+$/, '');

const bytes = (key: string) => Uint8Array.from(atob(key.replaceAll('-', '+').replaceAll('_', '/')), (one) => one.charCodeAt(0));

/** `Firefox on Linux`, as its owner would call it. */
function label(): string {
  const agent = navigator.userAgent;
  const browser = /Firefox|Edg|Chrome|Safari/.exec(agent)?.[0] ?? 'A browser';
  const system = /Android|iPhone|iPad|Windows|Mac OS X|Linux/.exec(agent)?.[0] ?? 'some device';
  return `${browser === 'Edg' ? 'Edge' : browser} on ${system}`;
}

/** @throws Error that says why it cannot be */
export async function letBeTold(key: string): Promise<PushBrowsers> {
  if ((await Notification.requestPermission()) !== 'granted') {
    throw new Error('This browser was not allowed to show notices; its own settings for this site say so.');
  }
  const worker = await navigator.serviceWorker.register('/push.js');
  await navigator.serviceWorker.ready;
  try {
    const there = await worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key) });
    return await send('post', '/api/session/browsers', {
      body: { endpoint: there.endpoint, key: text(there.getKey('p256dh')), auth: text(there.getKey('auth')), label: label() },
    });
  } catch (error) {
    if (error instanceof DOMException) {
      throw new Error('This browser reaches no push service here. Notices in the page, and sound, work all the same.', {
        cause: error,
      });
    }
    throw error;
  }
}
