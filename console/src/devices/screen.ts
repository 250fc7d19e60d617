import RFB from '@novnc/novnc';

/** A screen on the page, until it is closed. */
export type Seen = { home: () => void; close: () => void };

const ESCAPE = 0xff1b;

/** Shows the screen of a device in an element; told once when it is there and once when it is over. */
export function openScreen(
  element: HTMLElement,
  id: string,
  taps: boolean,
  onCome: () => void,
  onOver: () => void,
): Seen {
  const address = new URL(`/api/v1/assists/${id}/screen`, location.href);
  address.protocol = address.protocol === 'https:' ? 'wss:' : 'ws:';
  const rfb = new RFB(element, address.href, { shared: false });
  rfb.scaleViewport = true;
  rfb.viewOnly = !taps;
  rfb.background = 'transparent';
  rfb.addEventListener('connect', onCome);
  rfb.addEventListener('disconnect', onOver);
  return {
    home: () => rfb.sendKey(ESCAPE, 'Escape'),
    close: () => {
      rfb.removeEventListener('disconnect', onOver);
      rfb.disconnect();
    },
  };
}
