import { type ThemeConfig, theme } from 'antd';
import { useEffect, useSyncExternalStore } from 'react';

/** Which ground a person wants; "system" follows the device. */
export type Ground = 'system' | 'light' | 'dark';

const KEY = 'lucid.ground';
const listeners = new Set<() => void>();
const device = typeof window.matchMedia === 'function' ? window.matchMedia('(prefers-color-scheme: dark)') : undefined;
device?.addEventListener('change', () => notify());

function notify() {
  for (const listener of listeners) {
    listener();
  }
}

function ground(): Ground {
  const stored = localStorage.getItem(KEY);
  return stored === 'light' || stored === 'dark' ? stored : 'system';
}

export function setGround(value: Ground) {
  localStorage.setItem(KEY, value);
  notify();
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function useLook() {
  const chosen = useSyncExternalStore(subscribe, ground);
  const deviceDark = useSyncExternalStore(subscribe, () => device?.matches ?? false);
  const dark = chosen === 'dark' || (chosen === 'system' && deviceDark);
  useEffect(() => {
    document.documentElement.dataset.dark = String(dark);
  }, [dark]);
  return { ground: chosen, dark };
}

/** Our tokens for the components; the same colours stand in look.css. */
export function themeOf(dark: boolean): ThemeConfig {
  const ink = dark ? '#ece9e3' : '#1d1b22';
  return {
    algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: ink,
      colorInfo: ink,
      colorLink: ink,
      colorError: ink,
      colorWarning: ink,
      colorSuccess: ink,
      colorText: ink,
      colorTextPlaceholder: dark ? '#98949f' : '#716d79',
      colorTextLightSolid: dark ? '#17161a' : '#ffffff',
      colorBgBase: dark ? '#17161a' : '#fbf9f5',
      colorBgContainer: dark ? '#201f24' : '#ffffff',
      colorBgElevated: dark ? '#26242b' : '#ffffff',
      colorBorder: dark ? '#4a4751' : '#cfc8bc',
      borderRadius: 3,
      fontFamily: 'var(--sans)',
      fontSize: 13,
      controlHeight: 26,
      controlHeightSM: 22,
      motion: false,
      controlOutlineWidth: 2,
      // The chosen entry of a list, and the one of them that is marked.
      controlItemBgActive: dark ? '#3a3840' : '#efeae2',
      controlItemBgActiveHover: dark ? '#4a4751' : '#ddd5c8',
    },
  };
}
