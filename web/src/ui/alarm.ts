import { useEffect, useRef, useState } from 'react'

const KEY = 'keencoat-alarm'

/** Whether this browser may sound; kept between visits. */
export function useAlarmSetting(): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => localStorage.getItem(KEY) === 'on')
  return [
    on,
    (wanted) => {
      localStorage.setItem(KEY, wanted ? 'on' : 'off')
      setOn(wanted)
      if (wanted) chime()
    },
  ]
}

/** Two soft low notes. */
function chime() {
  const context = new AudioContext()
  for (const [start, pitch] of [
    [0, 392],
    [0.35, 523],
  ] as const) {
    const tone = context.createOscillator()
    const gain = context.createGain()
    tone.frequency.value = pitch
    const at = context.currentTime + start
    gain.gain.setValueAtTime(0, at)
    gain.gain.linearRampToValueAtTime(0.12, at + 0.05)
    gain.gain.exponentialRampToValueAtTime(0.001, at + 0.9)
    tone.connect(gain).connect(context.destination)
    tone.start(at)
    tone.stop(at + 1)
  }
  setTimeout(() => void context.close(), 2000)
}

/** Sounds once for each due time that passes while the page is open, and marks the tab while something is due. */
export function useAlarm(due: string[], now: number, sound: boolean) {
  const seen = useRef<number | null>(null)
  const waiting = due.filter((iso) => Date.parse(iso) <= now).length
  useEffect(() => {
    const title = document.title.replace(/^● /, '')
    document.title = waiting ? `● ${title}` : title
    return () => {
      document.title = title
    }
  }, [waiting])
  useEffect(() => {
    if (seen.current !== null && waiting > seen.current && sound) chime()
    seen.current = waiting
  }, [waiting, sound])
}
