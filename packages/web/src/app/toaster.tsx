import { useEffect, useState } from 'react';
import { laterPart } from '../parts/laterPart.tsx';

type Told = Parameters<(typeof import('./toastLayer.tsx'))['toaster']['create']>[0];

/** Milliseconds after the start until what shows messages is fetched: long before most, and behind what a view needs. */
const WAIT = 8000;

const load = () => import('./toastLayer.tsx');
const Layer = laterPart(async () => (await load()).ToastLayer);
let show: () => void = () => undefined;

function tell(told: Told): void {
  show();
  void load()
    .then(({ toaster }) => toaster.create({ closable: true, ...told }))
    .catch(() => undefined); // without the server nothing comes; that it is away is shown by the page itself
}

export function tellFailure(title: string, detail: string): void {
  tell({ type: 'error', title, description: detail });
}

export function tellDone(title: string, detail?: string): void {
  tell({ type: 'success', title, description: detail ?? '', duration: 5000 });
}

/** Something was done, but not quite as one might think. */
export function tellWarning(title: string, detail: string): void {
  tell({ type: 'warning', title, description: detail });
}

/** Shows what is told; its code comes a while after the page, or with the first message. */
export function Toaster() {
  const [wanted, setWanted] = useState(false);
  useEffect(() => {
    show = () => setWanted(true);
    const timer = setTimeout(show, WAIT);
    return () => clearTimeout(timer);
  }, []);
  return wanted ? <Layer.Part /> : null;
}
