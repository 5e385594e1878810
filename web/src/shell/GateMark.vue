<template>
  <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
    <g fill="none" stroke="#F0B44C" stroke-width="3" stroke-linecap="round"><path d="M4 6v20M12 4v8M12 20v8M20 4v8M20 20v8M28 6v20" /></g>
    <circle cx="16" cy="16" r="2.6" fill="#fff" />
  </svg>
</template>
