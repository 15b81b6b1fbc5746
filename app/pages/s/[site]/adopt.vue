<template>
  <ShellSheetFrame stop="adopt" question="Who is in, and what does each wait for?">
    <AdoptRoll />
    <template #margin><AdoptForeign /><FieldStandinsPanel /><AdoptEvents /></template>
  </ShellSheetFrame>
</template>
