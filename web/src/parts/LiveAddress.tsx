import { Alert, Button, Group, Modal, Text } from '@mantine/core';
import { words } from '../messages';
import { addressOf, linkLine, reloadLine, type SheetForm, useLinks } from '../session/links';
import { useSaving } from '../session/session';
import { CopyButton } from './CopyButton';
import classes from './LiveAddress.module.css';

const { live: said } = words;

interface Props {
  /** The id of a scene. */
  scene: string;
  form: SheetForm;
  onClose: () => void;
}

/** Where a scene's depth is while it is worked on: what a page in development has to say to load it. */
export function LiveAddress({ scene, form, onClose }: Props) {
  const { working, make, revoke, failure } = useLinks();
  const saved = useSaving((saving) => saving.phase === 'saved');
  const link = working.find((other) => other.follows && other.scene === scene);
  return (
    <Modal opened onClose={onClose} title={said.title} size="lg">
      <Text size="sm">{said.about}</Text>
      {failure && (
        <Alert color="red" mt="sm" title={words.handOff.didNotWork}>
          {failure.message}
        </Alert>
      )}
      {link ? (
        <>
          <Line said={said.inHead} what={said.linkLine} text={linkLine(link.token, form)} />
          <Line said={said.byItself} what={said.reloadLine} text={reloadLine(link.token)} />
          <Line said={said.tokens} what={said.address} text={`${addressOf(link.token)}/tokens.json`} />
          <Group justify="space-between" mt="lg">
            <Text size="xs">{said.aboutRevoke}</Text>
            <Button
              size="compact-sm"
              variant="default"
              loading={revoke.isPending}
              onClick={() => revoke.mutate(link.token)}
            >
              {words.handOff.revoke}
            </Button>
          </Group>
        </>
      ) : (
        <Group justify="end" mt="md">
          <Button
            data-autofocus
            size="compact-sm"
            loading={make.isPending}
            disabled={!saved}
            onClick={() => make.mutate({ scene, follows: true })}
          >
            {saved ? said.make : words.handOff.savingFirst}
          </Button>
        </Group>
      )}
    </Modal>
  );
}

/** Something to be copied into a page, and where it goes. */
function Line({ said: where, what, text }: { said: string; what: string; text: string }) {
  return (
    <section className={classes.line}>
      <div className={classes.head}>
        <h3 className={classes.title}>{where}</h3>
        <CopyButton text={text} what={what} />
      </div>
      <code className={classes.code}>{text}</code>
    </section>
  );
}
