/** The dowser's fork with its drop. */
export function Mark() {
  return (
    <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
      <path
        d="M6 5c0 8 4 11 10 12.5C22 16 26 13 26 5"
        fill="none"
        stroke="var(--hazel)"
        strokeWidth="2.8"
        strokeLinecap="round"
      />
      <path d="M16 17.500v3.500" stroke="var(--hazel)" strokeWidth="2.8" strokeLinecap="round" />
      <path d="M16 22.500c2.200 2.600 3 3.800 3 5a3 3 0 0 1-6 0c0-1.200.8-2.400 3-5z" fill="var(--water)" />
    </svg>
  )
}
