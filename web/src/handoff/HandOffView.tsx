import { Bar } from '../frame/Bar';
import view from '../parts/view.module.css';
import { Incoming } from './Incoming';
import { Links } from './Links';
import { Outgoing } from './Outgoing';

/** The whole project out and in, and links to it. */
export function HandOffView() {
  return (
    <main className={view.page}>
      <Bar open="handOff" />
      <div className={view.columns}>
        <Outgoing />
        <div className={view.side}>
          <Incoming />
          <Links />
        </div>
      </div>
    </main>
  );
}
