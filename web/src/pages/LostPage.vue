<template>
  <p style="padding: 40px; text-align: center">
    There is no page at this address. <RouterLink to="/figures">Go to the figures</RouterLink>
  </p>
</template>
