<template>
  <svg
    viewBox="0 0 24 24"
    width="24"
    height="24"
    fill="none"
    stroke="currentColor"
    stroke-linecap="round"
    aria-hidden="true"
  >
    <circle cx="3" cy="12" r="1.6" fill="currentColor" stroke="none" />
    <path d="M8 8.5q2.6 3.5 0 7" stroke-width="2.2" />
    <path d="M12.5 6q4.4 6 0 12" stroke-width="2.2" opacity=".8" />
    <path d="M17 3.5q6.4 8.5 0 17" stroke-width="2.2" opacity=".55" />
  </svg>
</template>
