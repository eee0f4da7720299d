import { Alert, Button, Checkbox, Group, NativeSelect, Text } from '@mantine/core';
import { useState } from 'react';
import { words } from '../messages';
import { CopyButton } from '../parts/CopyButton';
import { LiveAddress } from '../parts/LiveAddress';
import view from '../parts/view.module.css';
import { addressOf, useLinks } from '../session/links';
import { sceneOf } from '../session/lookup';
import { useSaving } from '../session/session';
import { useDocument } from '../session/store';
import classes from './HandOff.module.css';

/** Links to a scene, made and revoked. */
export function Links() {
  const document = useDocument((state) => state.document);
  const open = useDocument((state) => state.scene);
  const [chosen, setChosen] = useState<string | null>(null);
  const [follows, setFollows] = useState(false);
  const [live, setLive] = useState<string | null>(null);
  const scene = chosen ?? open;
  const saved = useSaving((saving) => saving.phase === 'saved');
  const { working, make, revoke, failure } = useLinks();
  return (
    <section aria-label={words.handOff.links} className={view.panel}>
      <h2 className={view.heading}>{words.handOff.links}</h2>
      <Text size="sm" mb="sm">
        {words.handOff.aboutLinks}
      </Text>
      <Group gap={8}>
        <NativeSelect
          size="xs"
          aria-label={words.handOff.sceneToLinkTo}
          value={scene ?? ''}
          data={(document?.scenes ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => setChosen(event.currentTarget.value)}
        />
        <Checkbox
          size="xs"
          label={words.live.follows}
          checked={follows}
          onChange={(event) => setFollows(event.currentTarget.checked)}
        />
        <Button
          size="compact-sm"
          onClick={() => make.mutate({ scene: scene ?? '', follows })}
          loading={make.isPending}
          disabled={!saved}
        >
          {saved ? words.handOff.createLink : words.handOff.savingFirst}
        </Button>
      </Group>
      {failure && (
        <Alert color="red" mt="sm" title={words.handOff.didNotWork}>
          {failure.message}
        </Alert>
      )}
      <ul className={classes.links} aria-label={words.handOff.linksMade}>
        {working.map((link) => {
          const address = addressOf(link.token);
          return (
            <li key={link.token} className={classes.link}>
              <span className={classes.scene}>{sceneOf(document, link.scene)?.name ?? link.scene}</span>
              <a href={address} target="_blank" rel="noreferrer" className={classes.address}>
                {address}
              </a>
              <Group gap={6} wrap="nowrap">
                {link.follows && (
                  <Button size="compact-sm" variant="default" onClick={() => setLive(link.scene)}>
                    {words.live.open}
                  </Button>
                )}
                <CopyButton text={address} what={words.handOff.link} />
                <Button size="compact-sm" variant="default" onClick={() => revoke.mutate(link.token)}>
                  {words.handOff.revoke}
                </Button>
              </Group>
            </li>
          );
        })}
      </ul>
      {live && (
        <LiveAddress scene={live} form={{ style: 'living', layer: '' }} onClose={() => setLive(null)} />
      )}
    </section>
  );
}
