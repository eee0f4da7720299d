import { Button, Group, Progress, Text, TextInput } from '@mantine/core';
import { useDeferredValue, useState } from 'react';
import { Link } from 'wouter';
import type { Project, Schemas } from '../core/client';
import { words } from '../messages';
import { few, fits, Narrow } from '../parts/Search';
import view from '../parts/view.module.css';
import { accept, acceptNoMore, takeFix } from '../session/checks';
import { choosePiece, chooseScene, openCoat } from '../session/choice';
import { sceneOf } from '../session/lookup';
import { useDocument } from '../session/store';
import classes from './Check.module.css';
import { PlacePicture } from './PlacePicture';
import type { AuditState } from './useAudit';
import type { Found } from './useFewerShadows';

type Finding = Schemas['Finding'];

interface Props extends AuditState {
  chosen: string | null;
  /** The fix of the one that is open. */
  offered: Found;
  onChoose: (finding: Finding | null) => void;
  trying: boolean;
  onTry: (trying: boolean) => void;
}

/** What was found in the whole project, the worst first. */
export function Findings(props: Props) {
  const { audit, isWhole, found, done, failure, again, stop, chosen, offered, onChoose, trying, onTry } =
    props;
  const [wanted, setWanted] = useState('');
  const looked = useDeferredValue(wanted);
  const [order, setOrder] = useState<Order>('worst');
  const all = audit?.findings ?? [];
  const shown = sorted(
    all.filter(({ place, message }) => fits(looked, place.name, message)),
    order,
  );
  const open = shown.filter((finding) => !finding.accepted);
  const accepted = shown.filter((finding) => finding.accepted);
  const count = all.filter((finding) => !finding.accepted).length;
  const row = (finding: Finding) => (
    <Row
      key={finding.key}
      finding={finding}
      found={found}
      offered={finding.key === chosen ? offered : null}
      onOpen={() => onChoose(finding.key === chosen ? null : finding)}
      trying={trying}
      onTry={onTry}
    />
  );
  return (
    <section aria-label={words.check.findings} className={view.panel}>
      <Group justify="space-between" mb={8}>
        <h2 className={`${view.heading} ${classes.heading}`}>{words.check.findings}</h2>
        {done === null ? (
          <Button size="compact-xs" variant="default" onClick={again}>
            {words.check.runAgain}
          </Button>
        ) : (
          <Button size="compact-xs" variant="default" onClick={stop}>
            {words.check.stop}
          </Button>
        )}
      </Group>
      {/* Its room is kept while nothing is under way, so that no button moves from under the pointer. */}
      <div className={classes.progress}>
        {done !== null && <Progress size="xs" value={done * 100} aria-label={words.check.checking} />}
      </div>
      {failure && (
        <Text size="sm" c="red" role="alert">
          {words.check.earlierFindings(failure)}
        </Text>
      )}
      {isWhole && (
        <Text size="sm" role="status">
          {count === 0 ? words.check.noFindings : words.check.count(count)}
        </Text>
      )}
      {all.length > few && (
        <Narrow
          label={words.check.search}
          value={wanted}
          onChange={setWanted}
          orderLabel={words.check.order}
          orders={words.check.orders}
          order={order}
          onOrder={setOrder}
        />
      )}
      {all.length > 0 && shown.length === 0 && (
        <Text size="sm" c="dimmed" mt={8}>
          {words.common.nothingFound(wanted)}
        </Text>
      )}
      <ul className={classes.findings}>{open.map(row)}</ul>
      {accepted.length > 0 && (
        <>
          <Text size="sm" mt={12} c="dimmed">
            {words.check.accepted(accepted.length)}
          </Text>
          <ul className={classes.findings}>{accepted.map(row)}</ul>
        </>
      )}
    </section>
  );
}

type Order = 'worst' | 'place';

/** They come the worst first. */
function sorted(findings: Finding[], order: Order): Finding[] {
  if (order === 'worst') return findings;
  return findings.toSorted((one, other) => one.place.name.localeCompare(other.place.name));
}

const severities: Record<Schemas['Severity'], string> = words.check.severities;

interface RowProps {
  finding: Finding;
  /** The document it was found in. */
  found: Project | null;
  /** Its fix, while it is open. */
  offered: Found | null;
  onOpen: () => void;
  trying: boolean;
  onTry: (trying: boolean) => void;
}

function Row({ finding, found, offered, onOpen, trying, onTry }: RowProps) {
  const { place } = finding;
  const fix = offered?.fix;
  const [gone, setGone] = useState(false);
  return (
    <li className={classes.finding}>
      <button type="button" className={classes.head} aria-expanded={offered !== null} onClick={onOpen}>
        {found && place.area ? (
          <PlacePicture found={found} place={place} />
        ) : (
          <span className={classes.place} />
        )}
        <span className={classes.told}>
          <span dir="auto" className={classes.name} title={place.name}>
            {place.name}
          </span>
          <span className={classes.severity} data-severity={finding.accepted ? 'hint' : finding.severity}>
            {finding.accepted ? words.check.acceptedLower : severities[finding.severity]}
          </span>
          <span className={classes.message}>{finding.message}</span>
        </span>
      </button>
      {offered && (
        <div className={classes.body}>
          <Text size="sm">{finding.why}</Text>
          {offered.finding && (
            <Text size="sm" mt={6} role="status">
              {words.check.findingFewer}
            </Text>
          )}
          {fix && (
            <Text size="sm" mt={6}>
              {words.check.fix(fix.title.charAt(0).toLowerCase() + fix.title.slice(1))}
            </Text>
          )}
          <Group gap={6} mt={8}>
            {fix && (
              <>
                <Button
                  size="compact-xs"
                  variant={trying ? 'filled' : 'default'}
                  aria-pressed={trying}
                  onClick={() => onTry(!trying)}
                >
                  {words.check.preview}
                </Button>
                <Button
                  size="compact-xs"
                  variant="default"
                  onClick={() => {
                    onTry(false);
                    setGone(!found || !takeFix(fix, found));
                  }}
                >
                  {words.check.apply}
                </Button>
              </>
            )}
            <Show place={place} />
          </Group>
          {gone && (
            <Text size="sm" role="alert" mt={6}>
              {words.check.changedSince}
            </Text>
          )}
          <Acceptance finding={finding} />
        </div>
      )}
    </li>
  );
}

/** Opens what was found on the workbench, or on its page. */
function Show({ place }: { place: Schemas['Location'] }) {
  const id = useDocument((state) => state.id);
  const onPage = useDocument((state) => Boolean(sceneOf(state.document, place.scene ?? null)?.page));
  if (!place.scene && !place.finish) return null;
  if (!place.scene) {
    return (
      <Button size="compact-xs" variant="default" component={Link} href={`/projects/${id}/finishes`}>
        {words.check.seeTheFinish}
      </Button>
    );
  }
  const show = () => {
    chooseScene(place.scene ?? '');
    if (place.piece) choosePiece(place.piece);
    if (place.coat) openCoat(place.coat);
  };
  const href = `/projects/${id}${onPage ? '/page' : ''}`;
  return (
    <Button size="compact-xs" variant="default" component={Link} href={href} onClick={show}>
      {place.coat ? words.check.openTheCoat : words.check.openThePiece}
    </Button>
  );
}

function Acceptance({ finding }: { finding: Finding }) {
  const [note, setNote] = useState('');
  if (finding.accepted) {
    return (
      <Group gap={6} mt={8}>
        <Text size="sm">{words.check.acceptedBecause(finding.accepted)}</Text>
        <Button size="compact-xs" variant="default" onClick={() => acceptNoMore(finding.key)}>
          {words.check.reopen}
        </Button>
      </Group>
    );
  }
  return (
    <form
      className={classes.accept}
      onSubmit={(event) => {
        event.preventDefault();
        if (note.trim()) accept(finding.key, note.trim());
      }}
    >
      <TextInput
        size="xs"
        aria-label={words.check.reason}
        placeholder={words.check.reasonExample}
        value={note}
        maxLength={400}
        onChange={(event) => setNote(event.currentTarget.value)}
      />
      <Button size="compact-sm" type="submit" variant="default" disabled={!note.trim()}>
        {words.check.accept}
      </Button>
    </form>
  );
}
