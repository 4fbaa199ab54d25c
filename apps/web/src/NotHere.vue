<template>
  <div class="mx-auto max-w-2xl px-6 py-10">
    <h1>There is nothing at this address</h1>
    <p class="mt-3">It may have been moved or thrown away. Nothing was lost by looking.</p>
    <RouterLink to="/desk" class="press mt-5">Go to the desk</RouterLink>
  </div>
</template>
