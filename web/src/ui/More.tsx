import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react'
import { ChevronRight } from 'lucide-react'
import type { ReactNode } from 'react'

/** What few need: its heading is pressed to see it. */
export function More({
  heading,
  children,
  className = '',
}: {
  heading: string
  children: ReactNode
  className?: string
}) {
  return (
    <Disclosure as="div" className={className}>
      <DisclosureButton className="group flex min-h-11 w-full items-center gap-2 py-2 text-left text-soft hover:text-ink">
        <ChevronRight aria-hidden className="size-4 shrink-0 group-data-open:rotate-90" />
        {heading}
      </DisclosureButton>
      <DisclosurePanel>{children}</DisclosurePanel>
    </Disclosure>
  )
}
