import { Bar } from '../parts/Bar';
import classes from './HandOff.module.css';
import { Incoming } from './Incoming';
import { Links } from './Links';
import { Outgoing } from './Outgoing';

/** The whole project out and in, and links to it. */
export function HandOffView() {
  return (
    <main className={classes.page}>
      <Bar open="Hand-off" />
      <div className={classes.columns}>
        <Outgoing />
        <div className={classes.side}>
          <Incoming />
          <Links />
        </div>
      </div>
    </main>
  );
}
