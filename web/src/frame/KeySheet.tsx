import { Modal, SegmentedControl, Switch, Text } from '@mantine/core';
import { memo } from 'react';
import { type Choice, chooseCore, useCore } from '../core/core';
import { words } from '../messages';
import { setSingleKeys, useSingleKeys } from '../session/keys';
import classes from './KeySheet.module.css';

const groups: { title: string; keys: [string, string][] }[] = [
  {
    title: words.common.pieces,
    keys: [
      [words.frame.brackets, words.frame.previousAndNext],
      [words.frame.shiftClick, words.frame.chooseOneMore],
      [words.frame.frameOnTheGround, words.frame.choosesWithin],
      [words.frame.ctrlA, words.frame.choosesAll],
      [words.frame.arrows, words.frame.moves],
      [words.frame.ctrlD, words.frame.duplicates],
      ['G', words.frame.groups],
      [words.frame.shiftG, words.frame.separatesGroup],
      [words.frame.enter, words.frame.goesIn],
      [words.frame.altArrows, words.frame.movesInLists],
      [words.common.deleteIt, words.frame.removes],
      [words.frame.escape, words.frame.closes],
    ],
  },
  {
    title: words.frame.coats,
    keys: [
      [words.frame.ctrlC, words.frame.copies],
      [words.frame.ctrlV, words.frame.pastes],
      [words.frame.holdO, words.frame.showTheCoatAlone],
      [words.frame.holdB, words.frame.showsTheOriginal],
      [words.frame.spaceArrowsSpace, words.frame.reorders],
    ],
  },
  {
    title: words.frame.numbers,
    keys: [
      [words.frame.upAndDown, words.frame.steps],
      [words.frame.dragOnTheLabel, words.frame.drags],
      ['12*1.5', words.frame.sumsAreWorkedOut],
      [words.frame.escape, words.frame.leavesTheValue],
    ],
  },
  {
    title: words.frame.stageAndHistory,
    keys: [
      [words.frame.plusAndMinus, words.frame.zoomInZoomOut],
      [words.frame.ctrlWheel, words.frame.zoomsAbout],
      [words.frame.spaceAndDrag, words.frame.movesTheView],
      ['0', words.frame.fitTheScene],
      [words.frame.ctrlZ, words.frame.turnsBack],
      ['?', words.frame.showTheShortcuts],
    ],
  },
];

/** What keys do. */
interface Props {
  opened: boolean;
  onClose: () => void;
}

export const KeySheet = memo(function KeySheet({ opened, onClose }: Props) {
  const single = useSingleKeys((keys) => keys.on);
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title={words.frame.shortcutsAndAbout}
      size="lg"
      closeButtonProps={{ 'aria-label': words.common.close }}
    >
      <Switch
        size="xs"
        mb={16}
        label={words.frame.singleKeys}
        description={words.frame.aboutSingleKeys}
        checked={single}
        onChange={(event) => setSingleKeys(event.currentTarget.checked)}
      />
      <div className={classes.groups}>
        {groups.map(({ title, keys }) => (
          <section key={title}>
            <h3 className={classes.title}>{title}</h3>
            <dl className={classes.list}>
              {keys.map(([key, does]) => (
                <div key={key} className={classes.line}>
                  <dt>{key}</dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
      <WhoDraws />
    </Modal>
  );
});

const choices: { value: Choice; label: string }[] = [
  { value: 'faster', label: words.frame.theFaster },
  { value: 'worker', label: words.frame.thisBrowser },
  { value: 'service', label: words.frame.theService },
];

/** Who draws and computes, and who may. */
function WhoDraws() {
  const { choice, who, able } = useCore();
  return (
    <section className={classes.drawing}>
      <h3 className={classes.title}>{words.frame.drawing}</h3>
      <SegmentedControl
        size="xs"
        data={choices}
        value={choice}
        onChange={(value) => chooseCore(value as Choice)}
        aria-label={words.frame.whoDraws}
      />
      <Text size="xs" c="dimmed" mt={6} data-core={who}>
        {words.frame.drawsNow(who, able)}
      </Text>
    </section>
  );
}
