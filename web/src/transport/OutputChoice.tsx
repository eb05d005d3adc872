import { Headphones } from 'lucide-react';
import { useEffect, useEffectEvent, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { useNotices } from '../ui/Notices.js';
import { useStored } from '../ui/useStored.js';
import { canChooseOutput } from '../player/player.js';
import { usePlayer } from '../album/PlayerContext.js';
import { IconMenu } from '../ui/IconMenu.js';
import { t } from '../ui/messages.js';

/** As the system has it. */
const SYSTEM = '';

/** Which device this computer plays through, where the browser lets a page choose. */
export function OutputChoice() {
  const player = usePlayer();
  const { complain } = useNotices();
  const [chosen, setChosen] = useStored('oiseau-output', SYSTEM);
  const [devices, setDevices] = useState<readonly MediaDeviceInfo[]>([]);
  const fallBack = useEffectEvent(() => {
    setChosen(SYSTEM);
    complain(new Error(t('The selected output device is no longer available; the system default is used.')));
  });
  useEffect(() => {
    if (canChooseOutput()) player.setOutput(chosen).catch(fallBack);
    player.onOutputLost = fallBack;
    return () => {
      player.onOutputLost = undefined;
    };
  }, [player, chosen]);
  if (!canChooseOutput()) return null;
  const look = async (): Promise<void> => {
    const all = await navigator.mediaDevices.enumerateDevices();
    setDevices(
      all.filter(({ kind, deviceId }) => kind === 'audiooutput' && deviceId !== '' && deviceId !== 'default'),
    );
  };
  const named = devices.some(({ label }) => label !== '');
  /** Browsers tell the names of devices to pages only that have heard the microphone once. */
  const askNames = async (): Promise<void> => {
    const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
    for (const track of stream.getTracks()) track.stop();
    await look();
  };
  return (
    <IconMenu
      icon={Headphones}
      label={t('Output device')}
      title={t('Output device of this computer')}
      drop="up"
      onToggle={(open) => void (open && look().catch(complain))}
    >
      <Dropdown.Item active={chosen === SYSTEM} onClick={() => setChosen(SYSTEM)}>
        {t('System default')}
      </Dropdown.Item>
      {devices.map(({ deviceId, label }, i) => (
        <Dropdown.Item key={deviceId} active={chosen === deviceId} onClick={() => setChosen(deviceId)}>
          {label || t('Device {number}', { number: i + 1 })}
        </Dropdown.Item>
      ))}
      {!named && (
        <>
          <Dropdown.Divider />
          <Dropdown.Item
            title={t(
              'Browsers show device names only to pages with microphone permission; nothing is recorded',
            )}
            onClick={() => void askNames().catch(complain)}
          >
            {t('Show device names …')}
          </Dropdown.Item>
        </>
      )}
    </IconMenu>
  );
}
