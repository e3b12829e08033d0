import { useState } from 'react'

type Theme = 'light' | 'dark'
const KEY = 'keencoat-theme'

function wanted(): Theme {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function startTheme() {
  document.documentElement.dataset.theme = wanted()
}

export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(wanted)
  const flip = () => {
    const next = theme === 'light' ? 'dark' : 'light'
    localStorage.setItem(KEY, next)
    document.documentElement.dataset.theme = next
    setTheme(next)
  }
  return [theme, flip]
}
